import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { lazy, StrictMode, Suspense } from 'react';
import { createRoot } from 'react-dom/client';
import { createBrowserRouter, Link, RouterProvider, useRouteError } from 'react-router';
import { Toaster } from 'sonner';
import { ServerProblem } from './shared/api';
import { Failed, Loading } from './shared/states';
import { startTheme } from './shared/theme';
import './theme.css';

const ProjectsPage = lazy(() =>
  import('./projects/projects-page').then((module) => ({ default: module.ProjectsPage })),
);
const ReelPage = lazy(() => import('./reel/reel-page').then((module) => ({ default: module.ReelPage })));
const RendersPage = lazy(() =>
  import('./renders/renders-page').then((module) => ({ default: module.RendersPage })),
);
const StoragePage = lazy(() =>
  import('./storage/storage-page').then((module) => ({ default: module.StoragePage })),
);
const WorkbenchPage = lazy(() =>
  import('./workbench/workbench-page').then((module) => ({ default: module.WorkbenchPage })),
);

function Broken() {
  const error = useRouteError();
  return (
    <div className="flex h-full">
      <Failed title="This page has stopped" error={error} onRetry={() => window.location.reload()}>
        <p className="mb-4">
          What was kept is safe, and edits on their way are sent when the page is open again.
        </p>
      </Failed>
    </div>
  );
}

function Nowhere() {
  return (
    <div className="m-auto p-10 text-center">
      <h1 className="mb-2 text-base font-bold">There is nothing at this address</h1>
      <Link to="/" className="font-semibold text-teal underline">
        All projects
      </Link>
    </div>
  );
}

const router = createBrowserRouter([
  { path: '/', element: <ProjectsPage />, errorElement: <Broken /> },
  { path: '/reels/:id', element: <ReelPage />, errorElement: <Broken /> },
  { path: '/renders', element: <RendersPage />, errorElement: <Broken /> },
  { path: '/storage', element: <StoragePage />, errorElement: <Broken /> },
  { path: '/shots/:id', element: <WorkbenchPage />, errorElement: <Broken /> },
  { path: '*', element: <Nowhere /> },
]);

const queries = new QueryClient({
  defaultOptions: {
    queries: {
      retry: (count, error) => count < 1 && !(error instanceof ServerProblem && error.status === 404),
    },
  },
});

startTheme();

createRoot(document.getElementById('root')!).render(
  <StrictMode>
    <QueryClientProvider client={queries}>
      <Suspense fallback={<Loading what="Whirl" />}>
        <RouterProvider router={router} />
      </Suspense>
      <Toaster
        position="bottom-center"
        toastOptions={{
          style: {
            fontFamily: 'var(--font-sans)',
            fontSize: 12,
            background: 'var(--color-raised)',
            color: 'var(--color-ink)',
            borderColor: 'var(--color-line)',
          },
        }}
      />
    </QueryClientProvider>
  </StrictMode>,
);
