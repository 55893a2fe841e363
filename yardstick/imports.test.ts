import { existsSync } from 'node:fs';
import { readdir, readFile } from 'node:fs/promises';
import path from 'node:path';
import ts from 'typescript';
import { expect, it } from 'vitest';

/** The files of a folder that a file imports or exports from, by their relative paths. */
async function importsOf(file: string): Promise<string[]> {
  const { importedFiles } = ts.preProcessFile(await readFile(file, 'utf8'));
  return importedFiles
    .filter(({ fileName }) => fileName.startsWith('.'))
    .map(({ fileName }) => path.join(path.dirname(file), fileName))
    .flatMap((stem) => ['', '.ts', '.tsx'].map((ending) => stem + ending))
    .filter((found) => /\.tsx?$/.test(found) && existsSync(found));
}

/** Files that import each other in a circle, however long; types count too. */
function circles(imports: ReadonlyMap<string, readonly string[]>): string[] {
  const done = new Set<string>();
  const found: string[] = [];
  const follow = (file: string, way: readonly string[]): void => {
    if (way.includes(file)) found.push([...way.slice(way.indexOf(file)), file].join(' > '));
    if (done.has(file) || way.includes(file)) return;
    for (const next of imports.get(file) ?? []) follow(next, [...way, file]);
    done.add(file);
  };
  for (const file of imports.keys()) follow(file, []);
  return found;
}

it('finds a circle', () => {
  const imports = new Map([
    ['a', ['b', 'd']],
    ['b', ['c']],
    ['c', ['a']],
    ['d', []],
  ]);
  expect(circles(imports)).toEqual(['a > b > c > a']);
});

it('no file of the tree imports itself, by whatever way', async () => {
  const imports = new Map<string, string[]>();
  for (const folder of ['src', 'yardstick', 'tests', 'demo'])
    for (const name of await readdir(folder, { recursive: true }))
      if (/\.tsx?$/.test(name)) {
        const file = path.join(folder, name);
        imports.set(file, await importsOf(file));
      }
  expect(imports.size).toBeGreaterThan(300);
  expect(circles(imports)).toEqual([]);
});
