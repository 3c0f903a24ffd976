// What a drop holds: files and whole folders, each file by its path, as the file manager shows it.

/** The files of an entry and of everything below it. */
async function inside(entry, path) {
  if (entry.isFile) return [{ file: await new Promise((good, bad) => entry.file(good, bad)), name: path + entry.name }];
  const reader = entry.createReader(),
    found = [];
  // A folder gives its entries some at a time, and none at its end.
  for (;;) {
    const some = await new Promise((good, bad) => reader.readEntries(good, bad));
    if (!some.length) break;
    found.push(...some);
  }
  return (await Promise.all(found.map(e => inside(e, `${path}${entry.name}/`)))).flat();
}

/** All files of a drop: { file, name }. Asked for while the drop is told of; later the browser knows nothing of it. */
export async function dropped(transfer) {
  const entries = [...transfer.items].map(i => i.webkitGetAsEntry?.()).filter(Boolean);
  return entries.length ? (await Promise.all(entries.map(e => inside(e, "")))).flat() : chosen(transfer.files);
}

/** Files that were chosen, one by one or as a folder. */
export const chosen = files => [...files].map(f => ({ file: f, name: f.webkitRelativePath || f.name }));

/** Why the server does not take a file, in its words where it has some. */
export function refusal(error, otherwise) {
  try {
    return JSON.parse(error.originalResponse?.getBody() ?? "").detail ?? otherwise;
  } catch {
    return otherwise;
  }
}
