/**
 * How often random tests run: a few times in `npm test`, as often as they once did in `npm run soak`, which sets
 * URNSMITH_SOAK.
 */
export const runs = (few: number, many: number): number => (process.env.URNSMITH_SOAK ? many : few);
