import { access } from 'node:fs/promises';
import { TextReader, ZipWriter } from '@zip.js/zip.js';
import { getDelivery, type Delivery } from '../storage/deliveries';
import type { House } from './rooms';
import { bytesToPack } from './zip-file';

/**
 * Delivered files in one ZIP, as a stream, with a report of what was found when they were read back. Two of one name get a
 * number. Throws `not-found` for a delivery that is not recorded.
 */
export async function zipOfDeliveries(
  { database, files }: Pick<House, 'database' | 'files'>,
  numbers: readonly number[],
): Promise<ReadableStream<Uint8Array>> {
  const deliveries: Delivery[] = [];
  for (const number of numbers) deliveries.push(await getDelivery(database, number));
  const named = withOwnNames(deliveries);
  const paths = named.map(({ name, delivery }) => ({
    name,
    path: files.pathOf('deliveries', delivery.sha256),
  }));
  // A file that went is told before anything is sent.
  for (const { path } of paths) await access(path);
  const report = `${JSON.stringify(reportOf(named), null, 2)}\n`;
  return zipOfFiles(paths, [{ name: 'report.json', reader: () => new TextReader(report) }]);
}

/** Files as a ZIP in a stream, and texts behind them. */
export function zipOfFiles(
  files: readonly { readonly name: string; readonly path: string }[],
  texts: readonly { readonly name: string; readonly reader: () => TextReader }[],
): ReadableStream<Uint8Array> {
  const { readable, writable } = new TransformStream<Uint8Array, Uint8Array>();
  // Pictures are packed already.
  const zip = new ZipWriter(writable, { level: 0 });
  void (async () => {
    for (const { name, path } of files) await zip.add(name, bytesToPack(path));
    for (const { name, reader } of texts) await zip.add(name, reader());
    await zip.close();
  })().catch((cause: unknown) => writable.abort(cause).catch(() => undefined));
  return readable;
}

/** A delivered file and the name it has among others. */
export interface Named {
  readonly name: string;
  readonly delivery: Delivery;
}

/** Deliveries under names of which no two are the same, nor that of a report. */
export function withOwnNames(deliveries: readonly Delivery[]): Named[] {
  const taken = new Set<string>(['report.json', 'report.csv']);
  return deliveries.map((delivery) => {
    const [, stem, ending] = /^(.*?)(\.[^.]*)?$/.exec(delivery.fileName)!;
    let name = delivery.fileName;
    for (let n = 2; taken.has(name.toLowerCase()); n++) name = `${stem}-${n}${ending ?? ''}`;
    taken.add(name.toLowerCase());
    return { name, delivery };
  });
}

/** What was written and how it was found, without what is only of use in this house. */
export function reportOf(named: readonly Named[]): object {
  return {
    deliveries: named.map(({ name, delivery }) => {
      const { format, sha256, pixelSha256, bytes, width, height, dpi, createdAt } = delivery;
      const { transparent, partly, opaque, findings } = delivery;
      const alpha = { transparent, partly, opaque };
      return { name, format, bytes, width, height, dpi, sha256, pixelSha256, alpha, findings, createdAt };
    }),
  };
}
