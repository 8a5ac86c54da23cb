// A worker starts without the loader of its parent: bring TypeScript in, then the work itself.
import { register } from 'tsx/esm/api';

register();
await import('./work.ts');
