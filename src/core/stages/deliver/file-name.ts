import { colorwayEnding } from '../../cut/colorway-name';
import { KenosisError } from '../../errors';

const LONGEST = 200;

/** The name proposed for a delivery: the original's without its ending, `-cutout.png` behind it. */
export function proposedFileName(originalName: string): string {
  const stem = originalName.replace(/\.[A-Za-z0-9]{1,5}$/, '');
  const plain = withoutForbidden(stem)
    .slice(0, LONGEST - '-cutout.png'.length)
    .trim();
  return `${plain || 'piece'}-cutout.png`;
}

/**
 * The name of a colorway's file: the chosen name, or the original's, with the colorway's name behind it:
 * `signature-navy.png`.
 */
export function colorwayFileName(chosen: string | null, originalName: string, colorway: string): string {
  const stem = withoutForbidden((chosen ?? originalName).replace(/\.[A-Za-z0-9]{1,5}$/, ''));
  const end = colorwayEnding(colorway);
  return `${stem.slice(0, LONGEST - end.length).trim() || 'piece'}${end}`;
}

/**
 * A name a person typed -> a file name that is safe everywhere, ending in `.png`. Throws `bad-argument` if it names
 * a folder, has control characters, is empty, hidden or too long.
 */
export function checkFileName(typed: string): string {
  const name = typed.trim();
  const full = name.toLowerCase().endsWith('.png') ? name : `${name}.png`;
  if (name === '' || full.toLowerCase() === '.png') throw refused(typed, 'is empty');
  if (withoutForbidden(full) !== full)
    throw refused(typed, 'has a character that files cannot have: / \\ : * ? " < > |');
  if (full.startsWith('.')) throw refused(typed, 'starts with a dot');
  if (full.length > LONGEST) throw refused(typed, `is longer than ${LONGEST} characters`);
  return full;
}

function refused(name: string, why: string): KenosisError {
  return new KenosisError('bad-argument', `file name: "${name}" ${why}`);
}

function withoutForbidden(name: string): string {
  return name.replace(/[\u0000-\u001f\u007f/\\:*?"<>|]/g, '');
}
