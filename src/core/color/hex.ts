import { badArgument } from '../errors';

/** `#rrggbb` -> red, green and blue, 0 to 255. Throws `bad-argument`. */
export function rgbOfHex(color: string): {
  readonly red: number;
  readonly green: number;
  readonly blue: number;
} {
  if (!/^#[0-9a-f]{6}$/.test(color)) throw badArgument('color', '#rrggbb', color);
  const value = Number.parseInt(color.slice(1), 16);
  return { red: value >> 16, green: (value >> 8) & 255, blue: value & 255 };
}

export function hexOfRgb(red: number, green: number, blue: number): string {
  const byte = (value: number) =>
    Math.min(255, Math.max(0, Math.round(value)))
      .toString(16)
      .padStart(2, '0');
  return `#${byte(red)}${byte(green)}${byte(blue)}`;
}
