import { KenosisError } from '../../errors';
import { OUTPUT_FORMATS } from '../../formats';
import { LONGEST_FILE_NAME } from './settings';

const PNG = OUTPUT_FORMATS.png.ending;

/** The name proposed for a delivery: the original's without its ending, `-cutout.png` behind it. */
export function proposedFileName(originalName: string): string {
  const stem = originalName.replace(/\.[A-Za-z0-9]{1,5}$/, '');
  const ending = `-cutout${PNG}`;
  return `${stemOf(stem, ending)}${ending}`;
}

/** What of a name can stand before an ending: no dot or space at its start, none at its end, never nothing. */
function stemOf(name: string, ending: string): string {
  const plain = withoutForbidden(name).replace(/^[.\s]+/, '');
  return plain.slice(0, LONGEST_FILE_NAME - ending.length).replace(/[.\s]+$/, '') || 'piece';
}

/**
 * A name a person typed -> a file name that is safe everywhere, with that ending. Throws `bad-argument` if it names
 * a folder, has control characters, is empty, hidden or too long.
 */
export function checkFileName(typed: string, ending: string = PNG): string {
  const name = typed.trim();
  const full = name.toLowerCase().endsWith(ending) ? name : `${name}${ending}`;
  if (name === '' || full.toLowerCase() === ending) throw refused(typed, 'is empty');
  if (withoutForbidden(full) !== full)
    throw refused(
      typed,
      'has a character that files cannot have: / \\ : * ? " < > |, or one that cannot be seen',
    );
  if (full.startsWith('.')) throw refused(typed, 'starts with a dot');
  if (withoutReserved(full) !== full) throw refused(typed, 'is a name that Windows keeps for itself');
  if (full.length > LONGEST_FILE_NAME) throw refused(typed, `is longer than ${LONGEST_FILE_NAME} characters`);
  return full;
}

function refused(name: string, why: string): KenosisError {
  return new KenosisError('bad-argument', `file name: "${name}" ${why}`);
}

function withoutForbidden(name: string): string {
  return plainText(name).replace(/[/\\:*?"<>|]/g, '');
}

/** Text without control characters and without the marks that turn its direction around (Unicode, UAX 9). */
export function plainText(text: string): string {
  return text.replace(/[\u0000-\u001f\u007f-\u009f\u061c\u200e\u200f\u202a-\u202e\u2066-\u2069]/g, '');
}

/** A name that Windows keeps for its devices, with a low line before it; any other as it is. */
export function withoutReserved(name: string): string {
  return /^(con|prn|aux|nul|com[0-9¹²³]|lpt[0-9¹²³])\s*(\.|$)/i.test(name) ? `_${name}` : name;
}
