/**
 * Random tests try the same cases in every run, so a failure means a change. `URNSMITH_SEED=7 npx vitest run` tries
 * others; a case that fails there belongs into a test of its own.
 */
import fc from 'fast-check';
import '../src/primitives/letters/withFont';

fc.configureGlobal({ seed: Number(process.env.URNSMITH_SEED ?? 20261126) });
