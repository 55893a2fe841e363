import { unzipped } from './loading';

const PROGRAM = 'x-program';

/** The server's store of full-size cutouts, packed, for the next time a piece is opened. */
export class KeptCutouts {
  /** The program on the server, as it said itself; empty before. */
  private program = '';
  /** Where the one lies that the server keeps. */
  private keptAt = '';

  /** What the server keeps at an address; null where it keeps nothing. What is not there is made. */
  async load(address: string): Promise<Uint8Array | null> {
    try {
      const response = await fetch(address);
      this.program = response.headers.get(PROGRAM) ?? '';
      if (response.status !== 200) return null;
      const packed = await unzipped(response);
      this.keptAt = address;
      return packed;
    } catch {
      return null;
    }
  }

  /** Leaves what `pack` gives with the server, unless it has it. */
  async keep(address: string, pack: () => Uint8Array | null): Promise<void> {
    if (this.program === '' || address === this.keptAt) return;
    const packed = pack();
    if (!packed) return;
    this.keptAt = address;
    const bytes = new Blob([packed as Uint8Array<ArrayBuffer>]).stream();
    const body = await new Response(bytes.pipeThrough(new CompressionStream('gzip'))).blob();
    await fetch(address, { method: 'PUT', headers: { [PROGRAM]: this.program }, body });
  }
}
