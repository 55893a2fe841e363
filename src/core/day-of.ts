/** The day of a moment where the person is, as `2026-11-30`. */
export function dayOf(now: Date): string {
  return new Date(now.getTime() - now.getTimezoneOffset() * 60_000).toISOString().slice(0, 10);
}
