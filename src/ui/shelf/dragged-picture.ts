/**
 * The pictures of what was dropped or pasted that brought no file: a picture dragged from a web page carries its address, and
 * with some programs its bytes in it. Nothing is fetched from anywhere.
 */
export function picturesIn(data: Pick<DataTransfer, 'getData'>): {
  readonly files: readonly File[];
  readonly trouble: string | null;
} {
  const html = data.getData('text/html');
  const address =
    /<img\b[^>]*?\bsrc\s*=\s*["']([^"']+)/i.exec(html)?.[1] ?? data.getData('text/uri-list').trim();
  if (address === '') return { files: [], trouble: null };
  const file = fileOfDataAddress(address);
  if (file) return { files: [file], trouble: null };
  return {
    files: [],
    trouble:
      'The page gave only the address of its picture, and Kenosis fetches nothing from the network. Copy the picture itself there and paste it here, or save it and drop the file.',
  };
}

/** `data:image/png;base64,...` -> a file; null for other addresses and for what is damaged. */
function fileOfDataAddress(address: string): File | null {
  const [, type, base64, body] = /^data:(image\/[\w.+-]+)(;base64)?,(.*)$/is.exec(address.trim()) ?? [];
  if (type === undefined || body === undefined) return null;
  try {
    const text = base64 ? atob(body) : decodeURIComponent(body);
    const bytes = base64
      ? Uint8Array.from(text, (letter) => letter.charCodeAt(0))
      : new TextEncoder().encode(text);
    const ending = type.slice('image/'.length).replace(/\+.*$/, '');
    return new File([bytes], `picture.${ending}`, { type });
  } catch {
    return null;
  }
}
