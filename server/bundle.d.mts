export function newestIn(paths: string[]): number;
export function isFresh(output: string, sources: string[]): boolean;
export function bundleServer(root?: string): Promise<string>;
