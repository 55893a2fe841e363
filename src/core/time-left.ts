/** A time that is left, in a few words: `about 2 min left`. */
export function timeLeftWords(ms: number): string {
  const seconds = Math.max(1, Math.round(ms / 1000));
  if (seconds < 60) return `about ${seconds}\u00a0s left`;
  const minutes = Math.round(seconds / 60);
  if (minutes < 60) return `about ${minutes}\u00a0min left`;
  const hours = Math.floor(minutes / 60);
  return hours < 48
    ? `about ${hours}\u00a0h ${minutes % 60}\u00a0min left`
    : `about ${Math.round(hours / 24)}\u00a0days left`;
}
