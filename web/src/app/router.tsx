import { createBrowserRouter, Navigate } from 'react-router';
import { JobPage } from './JobPage.tsx';
import { Shell } from './Shell.tsx';
import { Boundary, NoSuchPage } from '../ui/Boundary.tsx';
import { Rounds } from '../rounds/Rounds.tsx';

export const router = createBrowserRouter([
  {
    element: <Shell />,
    errorElement: <Boundary />,
    children: [
      { index: true, element: <Rounds /> },
      { path: 'jobs/:id', element: <Navigate to="gauge" replace /> },
      { path: 'jobs/:id/:lens', element: <JobPage />, errorElement: <Boundary /> },
      { path: '*', element: <NoSuchPage /> },
    ],
  },
]);
