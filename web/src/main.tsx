import { StrictMode } from 'react';
import { createRoot } from 'react-dom/client';
import { Provider } from 'react-redux';
import { createBrowserRouter, RouterProvider } from 'react-router';
import '@fontsource-variable/instrument-sans/index.css';
import './app.css';
import { App } from './app/App';
import { applyInterface } from './ui/interface';
import { Lost } from './views/Lost';
import { Opening } from './views/Opening';

applyInterface();
const app = new App();
// Sends actions that windows closed earlier left unsent, whatever is opened now.
void app.outgoing.sendLeftovers().catch(() => {});

/** Every view is loaded when it is gone to: the list of scenes needs nothing of the Bench. */
const router = createBrowserRouter([
  {
    path: '/',
    lazy: async () => ({ Component: (await import('./views/scenes/ScenesView')).ScenesView }),
    hydrateFallbackElement: <Opening />,
    errorElement: <Lost />,
  },
  {
    path: '/scene/:id',
    lazy: async () => {
      const { SceneShell } = await import('./views/SceneShell');
      return { element: <SceneShell app={app} /> };
    },
    hydrateFallbackElement: <Opening />,
    errorElement: <Lost />,
    children: [
      {
        path: 'bench',
        lazy: async () => ({ Component: (await import('./views/bench/BenchView')).BenchView }),
      },
      {
        path: 'crate',
        lazy: async () => ({ Component: (await import('./views/crate/CrateView')).CrateView }),
      },
    ],
  },
  { path: '*', element: <Lost /> },
]);

createRoot(document.getElementById('root')!).render(
  <StrictMode>
    <Provider store={app.store}>
      <RouterProvider router={router} />
    </Provider>
  </StrictMode>,
);
