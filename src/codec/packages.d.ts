declare module 'heic-decode' {
  interface HeicImage {
    readonly width: number;
    readonly height: number;
    decode(): Promise<{ readonly width: number; readonly height: number; readonly data: Uint8ClampedArray }>;
  }
  const decode: {
    all(input: { readonly buffer: Uint8Array }): Promise<HeicImage[] & { dispose(): void }>;
  };
  export default decode;
}

declare module '@cornerstonejs/codec-openjpeg/decodewasmjs' {
  interface J2KDecoder {
    getEncodedBuffer(length: number): Uint8Array;
    getDecodedBuffer(): Uint8Array;
    decode(): void;
    getFrameInfo(): {
      readonly width: number;
      readonly height: number;
      readonly bitsPerSample: number;
      readonly componentCount: number;
      readonly isSigned: boolean;
    };
    delete(): void;
  }
  export default function load(options: {
    readonly print: (line: string) => void;
    readonly printErr: (line: string) => void;
  }): Promise<{ readonly J2KDecoder: new () => J2KDecoder }>;
}

declare module 'omggif' {
  export class GifReader {
    constructor(bytes: Uint8Array);
    readonly width: number;
    readonly height: number;
    decodeAndBlitFrameRGBA(frame: number, out: Uint8Array): void;
  }
}
