import { StrictMode } from 'react';
import { createRoot } from 'react-dom/client';
import { Provider } from 'react-redux';
import { createBrowserRouter, RouterProvider } from 'react-router';
import '@fontsource-variable/instrument-sans/index.css';
import './app.css';
import { saver } from './state/saving';
import { store } from './state/store';
import { ScenesView } from './views/scenes/ScenesView';
import { SceneShell } from './views/SceneShell';
import { BenchView } from './views/bench/BenchView';
import { CrateView } from './views/crate/CrateView';
import { Lost } from './views/Lost';
import { installMeasure } from './workers/measure';

installMeasure();
// What windows closed earlier left unsent goes on its way, whatever is opened now.
void saver.sendLeftovers().catch(() => {});

const router = createBrowserRouter([
  { path: '/', element: <ScenesView />, errorElement: <Lost /> },
  {
    path: '/scene/:id',
    element: <SceneShell />,
    errorElement: <Lost />,
    children: [
      { path: 'bench', element: <BenchView /> },
      { path: 'crate', element: <CrateView /> },
    ],
  },
  { path: '*', element: <Lost /> },
]);

createRoot(document.getElementById('root')!).render(
  <StrictMode>
    <Provider store={store}>
      <RouterProvider router={router} />
    </Provider>
  </StrictMode>,
);
