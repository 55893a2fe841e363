/** Numbers as the interface writes them: US digits, units behind a space. */
const decimals = (digits: number) => new Intl.NumberFormat('en-US', { maximumFractionDigits: digits });

export function formatBytes(bytes: number): string {
  if (bytes < 1000) return `${bytes} bytes`;
  if (bytes < 1_000_000) return `${decimals(0).format(bytes / 1000)} kB`;
  return `${decimals(1).format(bytes / 1_000_000)} MB`;
}

/** A share 0 to 1 as percent; what is not quite 0 or 100 never reads as if it were. */
export function formatShare(share: number): string {
  if (share > 0 && share < 0.001) return 'under 0.1 %';
  if (share < 1 && share > 0.999) return 'over 99.9 %';
  return `${decimals(1).format(share * 100)} %`;
}

export function formatCount(count: number): string {
  return decimals(0).format(count);
}

export function formatNumber(value: number, digits = 1): string {
  return decimals(digits).format(value);
}

/** Pixels of the original as millimeters, where its dpi is known. */
export function formatMm(px: number, dpi: number | null): string | null {
  return dpi ? `${decimals(1).format((px / dpi) * 25.4)} mm` : null;
}

export function formatMoment(iso: string): string {
  return new Intl.DateTimeFormat('en-US', { dateStyle: 'medium', timeStyle: 'short' }).format(new Date(iso));
}
