/** What a color profile calls itself (ICC.1:2022, 9.2.41 and ICC.1:2001-04, 6.5.17), and whether that is sRGB. */
export interface ProfileName {
  readonly name: string;
  readonly isSrgb: boolean;
}

/** Reads a profile's description. A file without one is taken for sRGB. */
export function convertedFrom(icc: Buffer | undefined): ProfileName {
  if (!icc) return { name: 'sRGB', isSrgb: true };
  const name = descriptionOf(icc) || 'the profile in the file';
  return { name, isSrgb: /sRGB|^c2$/i.test(name) };
}

function descriptionOf(icc: Buffer): string {
  try {
    const count = Math.min(icc.readUInt32BE(128), 1000);
    for (let k = 0, at = 132; k < count; k++, at += 12) {
      if (icc.toString('latin1', at, at + 4) !== 'desc') continue;
      const start = icc.readUInt32BE(at + 4);
      return plain(textOf(icc.subarray(start, start + icc.readUInt32BE(at + 8))));
    }
  } catch {
    // A profile that cannot be read has no name.
  }
  return '';
}

function textOf(tag: Buffer): string {
  const type = tag.toString('latin1', 0, 4);
  if (type === 'desc') return tag.toString('latin1', 12, 12 + tag.readUInt32BE(8));
  if (type !== 'mluc') return '';
  const length = tag.readUInt32BE(20);
  const start = tag.readUInt32BE(24);
  return Buffer.from(tag.subarray(start, start + length))
    .swap16()
    .toString('utf16le');
}

/** Without what cannot be seen, and short. */
function plain(text: string): string {
  return text
    .replace(/[^\p{L}\p{N}\p{P}\p{S} ]/gu, '')
    .trim()
    .slice(0, 60);
}
