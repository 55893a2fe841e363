/** A folder that a person chose (File System Access), as far as it is used here. */
export interface ChosenFolder {
  getFileHandle(name: string, options?: { readonly create: boolean }): Promise<ChosenFile>;
}

interface ChosenFile {
  createWritable(): Promise<{ write(data: Blob): Promise<void>; close(): Promise<void> }>;
}

type Picker = () => Promise<ChosenFolder>;

/** How a person chooses a folder; null in browsers that cannot write into one. */
export function folderPicker(): Picker | null {
  const pick = (globalThis as { showDirectoryPicker?: (options: { mode: string }) => Promise<ChosenFolder> })
    .showDirectoryPicker;
  return pick ? () => pick.call(globalThis, { mode: 'readwrite' }) : null;
}

/** Writes files into a folder. One whose name is taken there gets a number: nothing is written over. Returns the names. */
export async function saveIntoFolder(
  folder: ChosenFolder,
  files: readonly { readonly name: string; readonly load: () => Promise<Blob> }[],
): Promise<string[]> {
  const names: string[] = [];
  for (const { name, load } of files) {
    const blob = await load();
    const free = await freeName(folder, name);
    const out = await (await folder.getFileHandle(free, { create: true })).createWritable();
    await out.write(blob);
    await out.close();
    names.push(free);
  }
  return names;
}

async function freeName(folder: ChosenFolder, name: string): Promise<string> {
  const [, stem, ending] = /^(.*?)(\.[^.]*)?$/.exec(name)!;
  let free = name;
  for (let n = 2; await isThere(folder, free); n++) free = `${stem}-${n}${ending ?? ''}`;
  return free;
}

async function isThere(folder: ChosenFolder, name: string): Promise<boolean> {
  try {
    await folder.getFileHandle(name);
    return true;
  } catch (error) {
    // A folder of that name is in the way too.
    return (error as Error).name === 'TypeMismatchError';
  }
}
