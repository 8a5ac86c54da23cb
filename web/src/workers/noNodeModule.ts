/** Stands in for `node:module`, which the boolean kernel imports in Node only. */
export const createRequire = (): never => {
  throw new Error('There is no require in a browser.');
};
