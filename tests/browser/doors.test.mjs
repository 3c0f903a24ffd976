// Coming in and going out: a second factor from its picture on, sign-ins that are ended, a forgotten password, the room's log.
import { test, before, after } from "node:test";
import assert from "node:assert/strict";
import { createHmac } from "node:crypto";
import { readFileSync, readdirSync } from "node:fs";
import { join } from "node:path";
import { comes, address, open } from "./desk.mjs";

const email = `engineer-${Date.now()}@tarnlane.example`;
const password = "ferry weir cobble plum";
let here, elsewhere, key, codes;

before(async () => {
  [here, elsewhere] = [await open(), await open()];
});
after(async () => {
  await here.context.close();
  await elsewhere.context.close();
});

/** What an authenticator shows, by RFC 6238. */
function code(step = 0) {
  const letters = "ABCDEFGHIJKLMNOPQRSTUVWXYZ234567";
  const bits = [...key.replace(/\s/g, "")].map(c => letters.indexOf(c).toString(2).padStart(5, "0")).join("");
  const counter = Buffer.alloc(8);
  counter.writeBigUInt64BE(BigInt(Math.floor(Date.now() / 30000) + step));
  const hash = createHmac("sha1", Buffer.from(bits.match(/.{8}/g).map(b => parseInt(b, 2))))
    .update(counter)
    .digest();
  return String((hash.readUInt32BE(hash.at(-1) & 15) & 0x7fffffff) % 1e6).padStart(6, "0");
}

async function comeIn(page, typed = password) {
  await page.goto(`${address}/sign-in`);
  await page.fill("input[name=Email]", email);
  await page.fill("input[name=Password]", typed);
  await page.click("button.main");
}

test("a room is not opened with a password that is guessed soon", async () => {
  const { page } = here;
  await page.goto(`${address}/open-a-room`);
  for (const typed of ["tarnlane-2026", password]) {
    await page.fill("input[name=Room]", "Tarn Lane mixing room");
    await page.fill("input[name=EngineerName]", "Receiving engineer");
    await page.fill("input[name=Email]", email);
    await page.fill("input[name=Password]", typed);
    await page.click("button.main");
    if (typed !== password) await comes(() => page.locator("#wrong").innerText(), /guessed soon/);
  }
  await page.waitForURL(`${address}/`);
});

test("a second factor is set up, and a password alone opens nothing then", async () => {
  const { page } = here;
  await page.click("text=Receiving engineer");
  await page.fill("#factor input[name=current]", password);
  await page.click("#factor button");
  key = await page.locator("#key").innerText();
  assert.ok((await page.locator(".pairing svg").boundingBox()).width > 100);
  await page.fill("#confirm input[name=code]", "12");
  await page.click("#confirm button");
  await comes(() => page.locator("#wrong").innerText(), /The code is wrong/);
  await page.fill("#confirm input[name=code]", code());
  await page.click("#confirm button");
  codes = (await page.locator("#codes").innerText()).split("\n");
  assert.equal(codes.length, 10);
  await comeIn(elsewhere.page);
  await elsewhere.page.waitForURL(/second-factor/);
  await elsewhere.page.goto(address);
  assert.match(elsewhere.page.url(), /sign-in/);
  await comeIn(elsewhere.page);
  await elsewhere.page.fill("input[name=Code]", code(1));
  await elsewhere.page.click("button.main");
  await elsewhere.page.waitForURL(`${address}/`);
});

test("a sign-in elsewhere is seen and ended", async () => {
  const { page } = here;
  await page.goto(`${address}/account`);
  await comes(() => page.locator("#sign-ins tbody tr").count(), 2);
  await comes(() => page.locator("#sign-ins").innerText(), /Chrome on Linux[^]*127\.0\.0\.1/);
  await page.locator("#sign-ins button").click();
  await page.waitForSelector("#done");
  await comes(() => page.locator("#sign-ins tbody tr").count(), 1);
  await elsewhere.page.goto(address);
  assert.match(elsewhere.page.url(), /sign-in/);
});

test("a forgotten password is set anew by the link of a letter; the second factor still stands", async () => {
  const { page } = elsewhere;
  await page.click("text=Forgot the password");
  await page.fill("input[name=Email]", email);
  await page.click("button.main");
  await comes(() => page.locator("#done").innerText(), /If there is an account/);
  const outbox = join(process.env.LYRO_DATA, "outbox");
  const letter = () =>
    readdirSync(outbox)
      .filter(f => f.endsWith(".eml"))
      .sort()
      .map(f =>
        readFileSync(join(outbox, f), "utf8")
          .replace(/=\r?\n/g, "")
          .replaceAll("=3D", "="),
      )
      .findLast(l => l.includes(email) && l.includes("new-password"));
  while (!letter()) await new Promise(done => setTimeout(done, 100));
  await page.goto(letter().match(/http:\/\/\S+/)[0]);
  await page.fill("input[name=Password]", "another ferry past the weir");
  await page.click("button.main");
  await comes(() => page.locator("#done").innerText(), /new password holds/);
  await here.page.goto(address);
  assert.match(here.page.url(), /sign-in/);
  await comeIn(page, "another ferry past the weir");
  await page.fill("input[name=Code]", codes[0]);
  await page.click("button.main");
  await page.waitForURL(`${address}/`);
});

test("the room's log says all of it", async () => {
  const { page } = elsewhere;
  await page.click("text=room log");
  for (const words of [/opened the room/, /second factor was turned on/, /a sign-in from elsewhere was ended/, /a new password by letter/])
    await comes(() => page.locator("#log").innerText(), words);
});

test("no script broke and nothing was blocked on the way", () => {
  assert.deepEqual([...here.problems, ...elsewhere.problems], []);
});
