import { StrictMode } from 'react';
import { createRoot } from 'react-dom/client';
import { Provider } from 'react-redux';
import { createBrowserRouter, RouterProvider } from 'react-router';
import '@fontsource-variable/instrument-sans/index.css';
import './app.css';
import { App } from './scene/App';
import { applyInterface } from './ui/interface';
import { ScenesView } from './views/scenes/ScenesView';
import { SceneShell } from './views/SceneShell';
import { BenchView } from './views/bench/BenchView';
import { CrateView } from './views/crate/CrateView';
import { Lost } from './views/Lost';

applyInterface();
const app = new App();
// What windows closed earlier left unsent goes on its way, whatever is opened now.
void app.outgoing.sendLeftovers().catch(() => {});

const router = createBrowserRouter([
  { path: '/', element: <ScenesView />, errorElement: <Lost /> },
  {
    path: '/scene/:id',
    element: <SceneShell app={app} />,
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
    <Provider store={app.store}>
      <RouterProvider router={router} />
    </Provider>
  </StrictMode>,
);
