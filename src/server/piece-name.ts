import { plainText, withoutReserved } from '../core/stages/deliver/file-name';

const LONGEST = 200;

/**
 * The last part of whatever path a browser sent: without control characters and marks that turn the direction of text
 * around, no name that a system keeps for itself, and of a length that fits a label.
 */
export function pieceName(typed: string): string {
  const last = typed.split(/[/\\]/).pop() ?? '';
  const plain = plainText(last).trim();
  return withoutReserved([...plain].slice(0, LONGEST).join('').trim()) || 'pasted picture';
}
