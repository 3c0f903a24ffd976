// How long files take from the last byte sent to the session on the page, and to the end of measuring their sound: node bench/intake.mjs [files] [minutes]
// Needs a running application (./lyrotrans start) and tests/browser/node_modules. Noise at full level takes longest.
import { begin, open, signIn } from "../tests/browser/desk.mjs";
import { bring, measured } from "./noise.mjs";

const count = Number(process.argv[2] ?? 48), seconds = Number(process.argv[3] ?? 5) * 60;
const { context, page } = await open();
await signIn(page);
const here = await begin(page, `Intake of ${count} files`);
const { bytes, started } = await bring(page, here, count, seconds);
const { shown, ended } = await measured(page, here);
console.log(`${count} files, ${(bytes / 1e9).toFixed(2)} GB: the session after ${((shown - started) / 1000).toFixed(1)} s, everything measured after ${((ended - started) / 1000).toFixed(1)} s`);
await context.close();
