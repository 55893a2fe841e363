import { BlobWriter, configure, TextReader, ZipWriter } from '@zip.js/zip.js';
import { describe, expect, it } from 'vitest';
import { isClutter, isZip, unpackZip } from './unpack-zip';

configure({ useWebWorkers: false });

async function zipOf(entries: Readonly<Record<string, string>>, password?: string): Promise<File> {
  const zip = new ZipWriter(new BlobWriter());
  for (const [name, text] of Object.entries(entries))
    await zip.add(name, new TextReader(text), password === undefined ? {} : { password });
  return new File([await zip.close()], 'pictures.zip');
}

describe('unpackZip', () => {
  it('gives what is in it by its last names, without what systems put beside it', async () => {
    const zip = await zipOf({
      'shoot/one.png': 'one',
      'shoot/deep/two.jpg': 'two',
      '__MACOSX/shoot/._one.png': 'x',
      'shoot/.DS_Store': 'x',
      'shoot/Thumbs.db': 'x',
    });
    expect(await isZip(zip)).toBe(true);
    const { files, trouble } = await unpackZip(zip);
    expect(trouble).toBeNull();
    expect(await Promise.all(files.map(async (file) => [file.name, await file.text()]))).toEqual([
      ['one.png', 'one'],
      ['two.jpg', 'two'],
    ]);
  });

  it('says what is locked, and takes the rest', async () => {
    const { files, trouble } = await unpackZip(await zipOf({ 'a.png': 'a' }, 'secret'));
    expect(files).toEqual([]);
    expect(trouble).toMatch(/a\.png \(locked with a password\) could not be taken/);
  });

  it('refuses what is damaged, empty, or would unpack to too much', async () => {
    const whole = await zipOf({ 'a.png': 'a'.repeat(5000) });
    const half = new File([whole.slice(0, whole.size >> 1)], 'half.zip');
    expect((await unpackZip(half)).trouble).toMatch(/"half.zip" is no ZIP that can be read/);
    expect((await unpackZip(await zipOf({}))).trouble).toMatch(/holds no files/);
    // An entry that declares 3 GB: what it says is believed before anything is unpacked.
    const bytes = Buffer.from(await whole.arrayBuffer());
    const directory = bytes.indexOf(Buffer.from([0x50, 0x4b, 1, 2]));
    bytes.writeUInt32LE(3_000_000_000, directory + 24);
    expect((await unpackZip(new File([bytes], 'bomb.zip'))).trouble).toMatch(/more than 2 GB/);
  });

  it('gives up an entry that is larger than it says', async () => {
    const whole = await zipOf({ 'a.png': 'a'.repeat(5000), 'b.png': 'b' });
    const bytes = Buffer.from(await whole.arrayBuffer());
    const directory = bytes.indexOf(Buffer.from([0x50, 0x4b, 1, 2]));
    bytes.writeUInt32LE(10, directory + 24);
    const { files, trouble } = await unpackZip(new File([bytes], 'lying.zip'));
    expect(files.map(({ name }) => name)).toEqual(['b.png']);
    expect(trouble).toMatch(/a\.png \(damaged\)/);
  });
});

describe('isClutter', () => {
  it.each([
    ['a/.hidden', true],
    ['.DS_Store', true],
    ['desktop.ini', true],
    ['./kite.png', false],
    ['/shoot/kite.png', false],
    ['kite.v2.png', false],
  ])('%s: %s', (path, is) => {
    expect(isClutter(path)).toBe(is);
  });
});
