import { describe, expect, it } from 'vitest';
import { saveIntoFolder, type ChosenFolder } from './save-into-folder';

/** A folder in memory, as browsers have it. */
function folderOf(files: Map<string, string>, folders: readonly string[] = []): ChosenFolder {
  return {
    getFileHandle(name, options) {
      const failed = (kind: string) => Promise.reject(Object.assign(new Error(name), { name: kind }));
      if (folders.includes(name)) return failed('TypeMismatchError');
      if (!files.has(name) && !options?.create) return failed('NotFoundError');
      return Promise.resolve({
        createWritable: () =>
          Promise.resolve({
            write: async (data: Blob) => void files.set(name, await data.text()),
            close: () => Promise.resolve(),
          }),
      });
    },
  };
}

const file = (name: string, text: string) => ({ name, load: () => Promise.resolve(new Blob([text])) });

describe('saveIntoFolder', () => {
  it('writes over nothing: names that are taken get a number', async () => {
    const files = new Map([['kite.png', 'mine']]);
    const names = await saveIntoFolder(folderOf(files, ['kite.webp']), [
      file('kite.png', 'one'),
      file('kite.png', 'two'),
      file('kite.webp', 'three'),
      file('kite.svg', 'four'),
    ]);
    expect(names).toEqual(['kite-2.png', 'kite-3.png', 'kite-2.webp', 'kite.svg']);
    expect(Object.fromEntries(files)).toEqual({
      'kite.png': 'mine',
      'kite-2.png': 'one',
      'kite-3.png': 'two',
      'kite-2.webp': 'three',
      'kite.svg': 'four',
    });
  });

  it('stops at a file that cannot be loaded, before its name is taken', async () => {
    const files = new Map<string, string>();
    const gone = { name: 'gone.png', load: () => Promise.reject(new Error('gone')) };
    await expect(saveIntoFolder(folderOf(files), [file('a.png', 'a'), gone])).rejects.toThrow('gone');
    expect([...files.keys()]).toEqual(['a.png']);
  });
});
