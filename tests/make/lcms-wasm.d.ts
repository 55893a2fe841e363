declare module 'lcms-wasm' {
  export interface Engine {
    cmsOpenProfileFromMem(bytes: Uint8Array, length: number): number;
    cmsCreate_sRGBProfile(): number;
    cmsCreateTransform(
      from: number,
      fromFormat: number,
      to: number,
      toFormat: number,
      intent: number,
      flags: number,
    ): number;
    cmsDoTransform(transform: number, samples: Float32Array, pixels: number): Float32Array;
  }
  export function instantiate(): Promise<Engine>;
  export const INTENT_PERCEPTUAL: number;
}
