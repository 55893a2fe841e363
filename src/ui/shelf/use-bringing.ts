import { useCallback, useState } from 'react';
import { picturesIn } from './dragged-picture';
import { isClutter, isZip, unpackZip } from './unpack-zip';
import type { useIntake } from './use-intake';

/** More than this at once are refused whole: a page cannot show what becomes of each. */
export const MOST_BROUGHT = 10_000;

/** Takes what was brought, files in folders and archives too, and sends it in. */
export function useBringing({
  take,
  takeBundles,
  refuse,
}: Pick<ReturnType<typeof useIntake>, 'take' | 'takeBundles' | 'refuse'>) {
  const [unpacking, setUnpacking] = useState<string | null>(null);

  const bring = useCallback(
    async (brought: readonly File[]) => {
      const files: File[] = [];
      for (const file of brought) {
        if (isClutter(pathOf(file))) continue;
        if (!(await isZip(file))) {
          files.push(file);
          continue;
        }
        setUnpacking(file.name);
        const unpacked = await unpackZip(file);
        setUnpacking(null);
        if (unpacked.isBundle) takeBundles([file]);
        files.push(...unpacked.files);
        if (unpacked.trouble) refuse(file.name, unpacked.trouble);
      }
      if (files.length > MOST_BROUGHT) refuse(`${files.length} files`, tooMany(files.length));
      else if (files.length > 0) take(files);
    },
    [take, takeBundles, refuse],
  );

  /** Takes what came without a file: a picture out of a web page. */
  const bringFromPage = useCallback(
    (data: DataTransfer): boolean => {
      const { files, trouble } = picturesIn(data);
      if (trouble) refuse('picture of a page', trouble);
      if (files.length > 0) take(files);
      return trouble !== null || files.length > 0;
    },
    [take, refuse],
  );

  return { bring, bringFromPage, unpacking };
}

function tooMany(count: number): string {
  return `${count.toLocaleString('en-US')} files were brought at once, and at most ${MOST_BROUGHT.toLocaleString('en-US')} can be. None was taken. Bring them in parts, watch their folder, or run them on the command line (kenosis run).`;
}

/** Where a file lay in what was brought. */
function pathOf(file: File): string {
  const { path } = file as File & { readonly path?: string };
  return file.webkitRelativePath || path || file.name;
}

/** Lets a person choose a folder; what is in it, and in folders within, comes as files. */
export function chooseFolder(take: (files: readonly File[]) => void): void {
  const input = document.createElement('input');
  input.type = 'file';
  input.webkitdirectory = true;
  input.onchange = () => take([...(input.files ?? [])]);
  input.click();
}
