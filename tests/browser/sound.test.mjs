// What is wrong with sound files themselves: a header that lies about the rate, two channels that are one, polarity inverted.
import { test, before, after } from "node:test";
import assert from "node:assert/strict";
import { comes, begin, demoFiles, drop, files, makesRevision, open, passes, signIn, waitForRevision } from "./desk.mjs";
import { join } from "node:path";

const look = async (page, name) => {
  if (process.env.LYRO_LOOK) await page.screenshot({ path: `${process.env.LYRO_LOOK}/${name}.png` });
};
const plain = text => text.replaceAll("\u202f", " ");
let context, page, problems, transfer;
before(async () => {
  ({ context, page, problems } = await open());
  await signIn(page);
  transfer = await begin(page, "Late spot");
  const folder = demoFiles();
  await drop(page, [...files(join(folder, "session")), ...files(join(folder, "late"))], folder);
  await waitForRevision(page, 1);
});
after(async () => {
  await context.close();
});

const flags = async () => {
  await page.goto(`${transfer}/survey`);
  await page.waitForSelector("#flags li");
  return plain(await page.locator("#flags").textContent());
};
const length = async () => {
  await page.goto(`${transfer}/prepare`);
  return plain(await page.locator("#arrive").innerText());
};

test("a header that says another rate than another part of the file is doubted, and decided by hand", async () => {
  await page.goto(`${transfer}/intake`);
  const row = page.locator('#rates tr[data-doubt$="cello-spot.wav"]');
  await comes(() => row.innerText().then(plain), /44 100 Hz\s+48 000 Hz\s+its iXML says 48 000 Hz[^]*8\.1 % slow/);
  await look(page, "rates");
  assert.match(await flags(), /cello-spot\.wav may be 48 000 Hz, not 44 100 Hz/);

  await page.goto(`${transfer}/intake`);
  await makesRevision(page, () => page.getByRole("button", { name: /as its header says, and convert/ }).click());
  await comes(() => page.locator("#rates").count(), 0);
  assert.match(await flags(), /cello-spot\.wav is 44 100 Hz/);

  await page.goto(`${transfer}/intake`);
  await makesRevision(page, () => page.locator("#declared-rates button").click());
  await makesRevision(page, () => page.getByRole("button", { name: /^it is 48/ }).click());
  await comes(() => page.locator("#declared-rates").innerText().then(plain), /cello-spot\.wav is 48 000 Hz, its header says 44 100 Hz/);
  await look(page, "rates-declared");
  const after = await flags();
  assert.doesNotMatch(after, /cello-spot\.wav (may be|is) /);
});

test("any file's rate can be declared, and a rate that is none is refused", async () => {
  await page.goto(`${transfer}/intake`);
  const before = await length();
  await page.goto(`${transfer}/intake`);
  await page.locator("#declare select[name=item]").selectOption({ label: "cello-spot.wav" });
  await page.locator("#declare select[name=rate]").selectOption({ label: "22\u202f050 Hz" });
  await makesRevision(page, () => page.click("#declare button"));
  assert.notEqual(await length(), before);
  await page.goto(`${transfer}/intake`);
  const from = await page.locator("#revision").innerText(),
    item = await page.locator("#declare select[name=item]").inputValue();
  const token = await page.locator("input[name=__RequestVerificationToken]").first().inputValue();
  for (const rate of ["fast", "-1", "0", "100", "99999999999"]) {
    const answer = await page.request.post(`${transfer}/intake?handler=Rate`, {
      headers: { "X-Request-Token": token },
      form: { from, item, rate },
    });
    assert.equal(answer.status(), 400, rate);
  }
  await makesRevision(page, () => page.locator("#declared-rates button").click());
  await makesRevision(page, () => page.getByRole("button", { name: /^it is 48/ }).click());
  assert.equal(await length(), before);
});

test("a stereo track that is the same in both channels goes as mono by one press, and the polarity of one is inverted", async () => {
  await page.goto(`${transfer}/prepare`);
  await comes(() => page.locator("#twice").innerText(), /Guide piano is the same in both channels/);
  await look(page, "twice");
  await makesRevision(page, () => page.click("#as-mono"));
  await comes(() => page.locator('#rows tr[data-name="Guide piano"] select[name=channels]').inputValue(), "mono");
  await comes(() => page.locator("#twice").count(), 0);
  await makesRevision(page, () => page.locator('#rows tr[data-track="piano"] select[name=inverted]').selectOption({ label: "−" }));
  await look(page, "inverted");
  await passes(page, transfer);
  await page.goto(`${transfer}/build`);
  await comes(() => page.locator("#planned").innerText(), /cello-spot/i);
});

test("levels of all media were measured on the way in, with the headroom that is left", async () => {
  await page.goto(`${transfer}/levels`);
  const heads = await page.locator("#levels th").allInnerTexts();
  const at = heads.findIndex(h => /headroom/i.test(h)),
    peak = heads.findIndex(h => /true peak/i.test(h));
  const row = await page.locator("#levels tbody tr", { hasText: "cello-spot" }).locator("td").allInnerTexts();
  const number = text => Number(text.replace("−", "-"));
  assert.equal(number(row[at]), -number(row[peak]));
  assert.ok(number(row[at]) > 0.5);
  await look(page, "levels");
  assert.deepEqual(
    problems.filter(p => !/400/.test(p)),
    [],
  );
});
