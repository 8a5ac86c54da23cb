/** Checks that read the sources without running them: title, program, arguments. */
export const STATIC_CHECKS = [
  ['Types', 'tsc', ['--noEmit']],
  ['Format', 'prettier', ['--check', '--log-level', 'warn', '.']],
  ['Lint', 'eslint', ['.', '--max-warnings', '0']],
];
