import type { UploadFile } from "../../../api/upload";

/** Everything that was dropped, folders walked through, with paths as they lie in them. */
export async function readDrop(items: DataTransferItemList): Promise<UploadFile[]> {
  // Entries must be taken before the first pause, for the list is emptied then.
  const entries = [...items].map((item) => item.webkitGetAsEntry()).filter((e) => e !== null);
  const found = await Promise.all(entries.map((entry) => walk(entry)));
  return found.flat();
}

async function walk(entry: FileSystemEntry): Promise<UploadFile[]> {
  if (entry.name.startsWith(".")) return [];
  if (entry.isFile) {
    const file = await new Promise<File>((resolve, reject) =>
      (entry as FileSystemFileEntry).file(resolve, reject),
    );
    return [{ path: entry.fullPath.replace(/^\//, ""), file }];
  }
  const inside = await readAll((entry as FileSystemDirectoryEntry).createReader());
  const found = await Promise.all(inside.map((child) => walk(child)));
  return found.flat();
}

/** A reader hands out a hundred entries at a time. */
async function readAll(reader: FileSystemDirectoryReader): Promise<FileSystemEntry[]> {
  const all: FileSystemEntry[] = [];
  for (;;) {
    const some = await new Promise<FileSystemEntry[]>((resolve, reject) =>
      reader.readEntries(resolve, reject),
    );
    if (some.length === 0) return all;
    all.push(...some);
  }
}

/** Files from a file input, a chosen folder included. */
export function readInput(files: FileList): UploadFile[] {
  return [...files]
    .map((file) => ({ path: file.webkitRelativePath || file.name, file }))
    .filter(({ path }) => !path.split("/").some((part) => part.startsWith(".")));
}
