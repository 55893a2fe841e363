/** What is said of a picture in which nothing could be told: marks are the way. */
export const BUSY_REASON =
  'Too busy to tell what is background: mark what stays and what goes with a few strokes (Clear, By marks).';
