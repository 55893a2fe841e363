import { createReadStream } from 'node:fs';
import { open, type FileHandle } from 'node:fs/promises';
import { Readable } from 'node:stream';
import { configure, Reader } from '@zip.js/zip.js';

// Workers are for pages.
configure({ useWebWorkers: false });

/** A file on the disk as a ZIP library reads it: only the parts it asks for. `close` it in the end. */
export class ZipFile extends Reader<string> {
  private file: FileHandle | null = null;

  constructor(private readonly path: string) {
    super(path);
  }

  override async init(): Promise<void> {
    this.file = await open(this.path);
    this.size = (await this.file.stat()).size;
  }

  override async readUint8Array(index: number, length: number): Promise<Uint8Array<ArrayBuffer>> {
    const buffer = new Uint8Array(length);
    const { bytesRead } = await this.file!.read(buffer, 0, length, index);
    return buffer.subarray(0, bytesRead);
  }

  async close(): Promise<void> {
    await this.file?.close();
    this.file = null;
  }
}

/** The bytes of a file, to be packed. */
export function bytesToPack(path: string): ReadableStream<Uint8Array<ArrayBuffer>> {
  return Readable.toWeb(createReadStream(path)) as ReadableStream<Uint8Array<ArrayBuffer>>;
}
