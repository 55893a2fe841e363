import { api } from '../../bench/api';
import { runsApi, type RunItemFacts } from '../../bench/runs-api';

interface Saved {
  readonly name: string;
  readonly load: () => Promise<Blob>;
}

/** The files of a run to be written into a folder, one by one, and its report behind them. */
export async function filesToSave(
  runId: number,
  items: readonly RunItemFacts[],
  tell: (words: string) => void,
): Promise<Saved[]> {
  const report = (await (await fetch(runsApi.reportAddress(runId, 'json'))).json()) as {
    readonly rows: readonly { readonly files: readonly { readonly name: string }[] }[];
  };
  const ids = items.flatMap(({ deliveries }) => deliveries);
  const names = report.rows.flatMap(({ files }) => files.map(({ name }) => name));
  if (names.length !== ids.length)
    throw new Error('Some files of this run were deleted for good. Take the others as a ZIP.');
  const files = ids.map((id, k): Saved => ({
    name: names[k]!,
    load: () => {
      tell(`Writing ${k + 1} of ${ids.length}`);
      return blobAt(api.deliveryAddress(id));
    },
  }));
  const reports = (['json', 'csv'] as const).map((as): Saved => ({
    name: `report.${as}`,
    load: () => blobAt(runsApi.reportAddress(runId, as)),
  }));
  return [...files, ...reports];
}

async function blobAt(address: string): Promise<Blob> {
  const response = await fetch(address);
  if (!response.ok) throw new Error('A file could not be fetched from Kenosis. Try it again.');
  return response.blob();
}
