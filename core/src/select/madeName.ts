/** The name under which the edges a step made are kept while a piece is built; nobody can type it. */
export const madeName = (step: string): string => `\n${step}`;
