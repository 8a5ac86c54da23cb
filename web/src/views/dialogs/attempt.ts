/** Runs what the server has to do; what it refuses is told in the box. */
export type Attempt = (act: () => Promise<unknown>) => Promise<void>;
