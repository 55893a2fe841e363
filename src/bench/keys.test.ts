import { describe, expect, it } from 'vitest';
import { bindingFor, KEYS } from './keys';

const press = (key: string, change: Partial<KeyboardEvent> = {}) =>
  bindingFor({ key, ctrlKey: false, metaKey: false, shiftKey: false, altKey: false, ...change });

describe('bindingFor', () => {
  it('tells undo from redo by Shift, with Ctrl or Cmd', () => {
    expect(press('z', { ctrlKey: true })?.words).toBe('undo');
    expect(press('Z', { metaKey: true, shiftKey: true })?.words).toBe('redo');
    expect(press('z')).toBeNull();
  });

  it('leaves the browser its own combinations', () => {
    expect(press('f', { ctrlKey: true })).toBeNull();
    expect(press('p', { ctrlKey: true })).toBeNull();
    expect(press('k', { altKey: true })).toBeNull();
  });

  it('gives no two keys the same meaning twice', () => {
    const signs = KEYS.map(({ key, command, shift }) => `${key}|${command ?? false}|${shift ?? 'any'}`);
    expect(new Set(signs).size).toBe(signs.length);
  });
});
