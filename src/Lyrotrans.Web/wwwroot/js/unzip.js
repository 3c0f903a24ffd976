// The entries of a zip file (APPNOTE 6.3: end of central directory, zip64, stored and deflated), read where they lie.
const END = 0x06054b50,
  END64 = 0x06064b50,
  LOCATOR = 0x07064b50,
  ENTRY = 0x02014b50,
  LOCAL = 0x04034b50,
  MOST_ENTRIES = 200000,
  PIECE = 1 << 22;

const view = async (blob, from, to) => new DataView(await blob.slice(from, to).arrayBuffer());
const big = (v, at) => Number(v.getBigUint64(at, true));

async function directory(file) {
  const from = Math.max(0, file.size - 65557),
    tail = await view(file, from, file.size);
  let end = tail.byteLength - 22;
  while (end >= 0 && tail.getUint32(end, true) !== END) end--;
  if (end < 0) throw new Error("it is no whole zip file; fetch it again.");
  let [count, size, at] = [tail.getUint16(end + 10, true), tail.getUint32(end + 12, true), tail.getUint32(end + 16, true)];
  if (end >= 20 && tail.getUint32(end - 20, true) === LOCATOR) {
    const place = big(tail, end - 12),
      wide = await view(file, place, place + 56);
    if (wide.byteLength < 56 || wide.getUint32(0, true) !== END64) throw new Error("its directory is damaged; fetch it again.");
    [count, size, at] = [big(wide, 32), big(wide, 40), big(wide, 48)];
  }
  if (count > MOST_ENTRIES || at + size > file.size) throw new Error("its directory is damaged; fetch it again.");
  return { count, records: await view(file, at, at + size) };
}

/** Sizes and place of an entry; those that do not fit into 32 bits stand in the extra field 1. */
function sizes(v, at, nameLength, extraLength) {
  const [packed, plain, place] = [v.getUint32(at + 20, true), v.getUint32(at + 24, true), v.getUint32(at + 42, true)],
    wide = { packed, plain, place };
  for (let e = at + 46 + nameLength, end = e + extraLength; e + 4 <= end;) {
    const length = v.getUint16(e + 2, true);
    if (v.getUint16(e, true) === 1) {
      let field = e + 4;
      for (const [name, value] of [
        ["plain", plain],
        ["packed", packed],
        ["place", place],
      ])
        if (value === 0xffffffff && field + 8 <= e + 4 + length) {
          wide[name] = big(v, field);
          field += 8;
        }
    }
    e += 4 + length;
  }
  return wide;
}

/** The files of a zip, one after the other: a name, and pieces to be read before the next one is asked for. */
export async function* entries(file) {
  const { count, records: v } = await directory(file);
  for (let i = 0, at = 0; i < count; i++) {
    if (at + 46 > v.byteLength || v.getUint32(at, true) !== ENTRY) throw new Error("its directory is damaged; fetch it again.");
    const [method, nameLength, extraLength, commentLength] = [10, 28, 30, 32].map(o => v.getUint16(at + o, true)),
      name = new TextDecoder().decode(new Uint8Array(v.buffer, v.byteOffset + at + 46, nameLength)),
      size = sizes(v, at, nameLength, extraLength);
    at += 46 + nameLength + extraLength + commentLength;
    if (!name.endsWith("/")) yield { name, pieces: () => unpacked(file, size, method) };
  }
}

async function* unpacked(file, { packed, place }, method) {
  const head = await view(file, place, place + 30);
  if (head.byteLength < 30 || head.getUint32(0, true) !== LOCAL) throw new Error("an entry is not where the directory says.");
  const from = place + 30 + head.getUint16(26, true) + head.getUint16(28, true),
    blob = file.slice(from, from + packed);
  if (blob.size !== packed || (method !== 0 && method !== 8)) throw new Error("an entry is cut short, or packed in another way.");
  if (method === 0) for (let at = 0; at < packed; at += PIECE) yield new Uint8Array(await blob.slice(at, at + PIECE).arrayBuffer());
  else yield* streamed(blob.stream().pipeThrough(new DecompressionStream("deflate-raw")));
}

async function* streamed(stream) {
  const reader = stream.getReader();
  for (;;) {
    const { done, value } = await reader.read();
    if (done) return;
    yield value;
  }
}
