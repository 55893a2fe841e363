import { describe, expect, it } from 'vitest';
import { picturesIn } from './dragged-picture';

const data = (told: Readonly<Record<string, string>>) => ({ getData: (type: string) => told[type] ?? '' });

describe('picturesIn', () => {
  it('takes a picture that is in the page itself', async () => {
    const html = '<p><img alt="kite" src="data:image/png;base64,iVBORw0KGgo="></p>';
    const { files, trouble } = picturesIn(data({ 'text/html': html }));
    expect(trouble).toBeNull();
    expect(files[0]).toMatchObject({ name: 'picture.png', type: 'image/png', size: 8 });
    const svg = picturesIn(data({ 'text/uri-list': 'data:image/svg+xml,%3Csvg%2F%3E' }));
    expect([svg.files[0]!.name, await svg.files[0]!.text()]).toEqual(['picture.svg', '<svg/>']);
  });

  it('fetches nothing, and says what to do instead', () => {
    for (const told of [
      { 'text/html': '<img src="https://example.org/kite.png">' },
      { 'text/uri-list': 'https://example.org/kite.png' },
      { 'text/html': '<img src="data:image/png;base64,!!!">' },
    ] as Record<string, string>[]) {
      const { files, trouble } = picturesIn(data(told));
      expect(files).toEqual([]);
      expect(trouble).toMatch(/fetches nothing from the network/);
    }
  });

  it('says nothing of text', () => {
    expect(picturesIn(data({ 'text/plain': 'Dear Maren' }))).toEqual({ files: [], trouble: null });
  });
});
