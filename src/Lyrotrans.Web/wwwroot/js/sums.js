// A worker: holds files, or the entries of a zip, to their SHA-256 sums, piece by piece.
import { sha256 } from "/lib/noble-hashes/sha2.js";
import { entries } from "./unzip.js";

const hex = hash => [...hash].map(b => b.toString(16).padStart(2, "0")).join("");

class Check {
  constructor(sums, total) {
    this.bySum = Map.groupBy(sums, s => s.sha256);
    this.sums = sums;
    this.total = total;
    this.done = 0;
    this.told = 0;
    this.found = new Map();
    this.strange = 0;
  }
  /** Files of the package that something of this name may be: by its whole path, else by the end of it. */
  named(name) {
    const whole = this.sums.filter(s => s.path === name);
    return whole.length ? whole : this.sums.filter(s => s.path.endsWith(`/${name}`) || name.endsWith(`/${s.path}`));
  }
  async take(name, pieces) {
    const hash = sha256.create(),
      named = this.named(name);
    try {
      for await (const piece of pieces) {
        hash.update(piece);
        this.done += piece.length;
        if (this.done - this.told > 1 << 24) {
          this.told = this.done;
          postMessage({ done: this.done, total: this.total });
        }
      }
    } catch {
      for (const meant of named) this.tell(meant.path, "unread");
      return;
    }
    const sum = hex(hash.digest()),
      right = named.find(s => s.sha256 === sum) ?? this.bySum.get(sum)?.find(s => this.found.get(s.path) !== "whole");
    if (right) this.tell(right.path, named.includes(right) ? "whole" : "renamed");
    else if (named.length === 1) this.tell(named[0].path, "differs");
    else if (named.length) for (const meant of named.filter(s => !this.found.has(s.path)).slice(0, 1)) this.tell(meant.path, "differs");
    else this.strange++;
  }
  tell(path, found) {
    // What was whole once is whole, whatever else has its name.
    if (this.found.get(path) === "whole") return;
    this.found.set(path, found);
    postMessage({ path, found });
  }
  /** What was found of the files that were sent, or of those that the receiver had before. */
  of(before) {
    const sums = this.sums.filter(s => s.before === before),
      found = sums.map(s => this.found.get(s.path)).filter(Boolean),
      whole = found.filter(f => f === "whole" || f === "renamed").length;
    return { all: sums.length, whole, differ: found.length - whole, missing: sums.length - found.length };
  }
  end() {
    return { ...this.of(false), before: this.of(true), strange: this.strange };
  }
}

async function* read(blob) {
  for (let at = 0; at < blob.size; at += 1 << 22) yield new Uint8Array(await blob.slice(at, at + (1 << 22)).arrayBuffer());
}
const isZip = async file =>
  new DataView(
    await file
      .slice(0, 4)
      .arrayBuffer()
      .then(b => (b.byteLength === 4 ? b : new ArrayBuffer(4))),
  ).getUint32(0, true) === 0x04034b50;

onmessage = async ({ data: { files, sums } }) => {
  const check = new Check(
    sums,
    files.reduce((all, f) => all + f.file.size, 0),
  );
  try {
    for (const { file, name } of files)
      if (!check.named(name).length && (await isZip(file)))
        for await (const entry of entries(file)) await check.take(entry.name, entry.pieces());
      else await check.take(name, read(file));
    postMessage({ end: check.end() });
  } catch (problem) {
    postMessage({ end: { ...check.end(), problem: `It cannot be read to its end: ${problem.message}` } });
  }
};
