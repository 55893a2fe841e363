import type { Cut } from './schema';

/** Equal for two cuts that give the same pixels of the same original. */
export function pixelKey({ prepare, clear, edge, touchUp, ink }: Cut): string {
  return JSON.stringify([prepare, clear, edge, touchUp, ink]);
}

/** Equal for two cuts in which the checks find the same. */
export function checkKey(cut: Cut): string {
  return JSON.stringify([pixelKey(cut), cut.deliver.print]);
}
