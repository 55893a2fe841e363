/** Threads of the server that work on pieces side by side. */
export const POOL_THREADS = 2;
