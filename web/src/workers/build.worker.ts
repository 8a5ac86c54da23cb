/** Evaluates pieces off the main thread. One document per worker; messages are answered in order. */
import * as Comlink from 'comlink';
import wasmUrl from 'manifold-3d/manifold.wasm?url';
import { loadKernel } from '@urnsmith/core/solid/kernel';
import { Builder } from './Builder';

Comlink.expose(new Builder(loadKernel(wasmUrl)));
