import { createBrowserRouter, Navigate } from 'react-router';
import { JobPage } from './JobPage.tsx';
import { JoinPage } from './JoinPage.tsx';
import { lazyPart } from '../boot/lazyPart.ts';
import { ROUNDS } from '../boot/rounds.ts';
import { Opened, Page } from './Page.tsx';
import { Shell } from './Shell.tsx';
import { Boundary, NoSuchPage } from '../ui/Boundary.tsx';

const shelfPage = lazyPart(() => import('../firm/shelf/ShelfPage.tsx'));
const dayPage = lazyPart(() => import('../firm/day/DayPage.tsx'));
const comingPage = lazyPart(() => import('../firm/day/ComingPage.tsx'));
const figuresPage = lazyPart(() => import('../firm/figures/FiguresPage.tsx'));
const rulesPage = lazyPart(() => import('../firm/rules/RulesPage.tsx'));
const peoplePage = lazyPart(() => import('../firm/people/PeoplePage.tsx'));
const instrumentsPage = lazyPart(() => import('../firm/instruments/InstrumentsPage.tsx'));

export const router = createBrowserRouter([
  { path: 'join', element: <JoinPage />, errorElement: <Boundary /> },
  {
    element: <Shell />,
    errorElement: <Boundary />,
    children: [
      { index: true, element: <Opened of={ROUNDS} />, errorElement: <Boundary /> },
      {
        path: 'shelf',
        element: <Page of={shelfPage} writes="PUT /shelf/parts/:id" filled={false} />,
        errorElement: <Boundary />,
      },
      {
        path: 'day',
        element: <Page of={dayPage} writes="POST /jobs/:id/facts" filled={false} />,
        errorElement: <Boundary />,
      },
      {
        path: 'coming',
        element: <Page of={comingPage} writes="POST /jobs/:id/facts" filled={false} />,
        errorElement: <Boundary />,
      },
      {
        path: 'figures',
        element: <Page of={figuresPage} writes="GET /figures" filled={false} />,
        errorElement: <Boundary />,
      },
      { path: 'rules', element: <Page of={rulesPage} writes="PUT /shelf/rules" />, errorElement: <Boundary /> },
      {
        path: 'instruments',
        element: <Page of={instrumentsPage} writes="PUT /instruments/:id" />,
        errorElement: <Boundary />,
      },
      { path: 'people', element: <Page of={peoplePage} writes="PUT /people/:id" />, errorElement: <Boundary /> },
      { path: 'jobs/:id', element: <Navigate to="gauge" replace /> },
      { path: 'jobs/:id/:lens', element: <JobPage />, errorElement: <Boundary /> },
      { path: '*', element: <NoSuchPage /> },
    ],
  },
]);
