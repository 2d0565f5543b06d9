import { createBrowserRouter, Navigate } from 'react-router';
import { lazy } from 'react';
import { JobPage } from './JobPage.tsx';
import { Page } from './Page.tsx';
import { Shell } from './Shell.tsx';
import { Boundary, NoSuchPage } from '../ui/Boundary.tsx';
import { Rounds } from '../rounds/Rounds.tsx';

const ShelfPage = lazy(() => import('../shelf/ShelfPage.tsx'));
const RulesPage = lazy(() => import('../rules/RulesPage.tsx'));
const InstrumentsPage = lazy(() => import('../instruments/InstrumentsPage.tsx'));

export const router = createBrowserRouter([
  {
    element: <Shell />,
    errorElement: <Boundary />,
    children: [
      { index: true, element: <Rounds /> },
      { path: 'shelf', element: <Page of={ShelfPage} />, errorElement: <Boundary /> },
      { path: 'rules', element: <Page of={RulesPage} />, errorElement: <Boundary /> },
      { path: 'instruments', element: <Page of={InstrumentsPage} />, errorElement: <Boundary /> },
      { path: 'jobs/:id', element: <Navigate to="gauge" replace /> },
      { path: 'jobs/:id/:lens', element: <JobPage />, errorElement: <Boundary /> },
      { path: '*', element: <NoSuchPage /> },
    ],
  },
]);
