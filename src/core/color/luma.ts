/** Luma of encoded sRGB, 0 to 255: the weights of ITU-R BT.709. */
export function lumaOf(red: number, green: number, blue: number): number {
  return 0.2126 * red + 0.7152 * green + 0.0722 * blue;
}

/** Luma as JPEG has it, 0 to 255: the weights of ITU-R BT.601. Of differences of colors as well. */
export function jpegLumaOf(red: number, green: number, blue: number): number {
  return 0.299 * red + 0.587 * green + 0.114 * blue;
}
