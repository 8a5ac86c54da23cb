/**
 * Checks that read the sources without running them: title, program, arguments. The compiler in native code takes a
 * third of the time; the linter needs the one in JavaScript.
 */
export const STATIC_CHECKS = [
  ['Types', '../typescript-native/bin/tsc', ['--noEmit']],
  ['Format', 'prettier', ['--check', '--log-level', 'warn', '.']],
  ['Lint', 'eslint', ['.', '--max-warnings', '0']],
];
