/**
 * How the server's process is started so that it takes little memory: one pool of the C library for all threads, which otherwise keep what they have freed each for itself, and
 * a small nursery for young objects in each. Measured with a record of 5,000 readings on paper: 463 MB at most in place of 636, in the same time.
 */
export const FRUGAL = { execArgv: ["--max-semi-space-size=8"], env: { MALLOC_ARENA_MAX: "1" } } as const;
