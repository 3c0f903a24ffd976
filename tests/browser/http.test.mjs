// The application below its screens: what is refused, to whom, and in which words.
import { test, before, after } from "node:test";
import assert from "node:assert/strict";
import { get } from "node:http";
import { connect as dial } from "node:net";
import { comes, address, open, signIn, stage } from "./desk.mjs";

let context, page, prepare, intake, token, from;
before(async () => {
  ({ context, page } = await open());
  await signIn(page);
  prepare = await stage(page, "Three bells, one lantern", "prepare");
  intake = prepare.replace(/prepare$/, "intake");
  await refresh();
});
after(async () => {
  await context.close();
});

async function refresh() {
  await page.goto(prepare);
  token = await page.locator("meta[name=request-token]").getAttribute("content");
  from = await page.locator("#sheet").getAttribute("data-revision");
}
const post = (url, form, headers = { "X-Request-Token": token }) => page.request.post(url, { form, headers });
const range = change =>
  post(`${prepare}?handler=Options`, {
    from,
    "files.namePattern": "{order}_{track}",
    "files.from": "session start",
    "files.tail": "1.000",
    "files.container": "wav",
    "files.encoding": "integer 24",
    ...change,
  });

const NO_PLACE = /a timecode, a bar such as 17\.1\.0[^]*or the name of a marker is expected/;
for (const [what, change, words] of [
  ["a pattern with a field that does not exist", { "files.namePattern": "{mood}_{track}" }, /field that does not exist/],
  ["an empty pattern", { "files.namePattern": " " }, /1 to 100 characters/],
  ["a tail that is no number", { "files.tail": "long" }, /"long" cannot be taken for tail/],
  ["a tail of days", { "files.tail": "99999" }, /0 to 3600 seconds is expected/],
  ["a chosen start that is no place", { "files.from": "chosen", "files.chosenStart": "soon" }, NO_PLACE],
  ["a timecode that does not exist", { "files.from": "chosen", "files.chosenStart": "00:00:00:25" }, NO_PLACE],
  ["float in FLAC", { "files.container": "flac", "files.encoding": "float 32" }, /FLAC holds no float/],
  ["64 bit float", { "files.encoding": "float 64" }, /16 bit, 24 bit, 32 bit or 32 bit float/],
])
  test(`prepare refuses ${what}`, async () => {
    const answer = await range(change);
    assert.equal(answer.status(), 400);
    assert.match(await answer.text(), words);
    await page.goto(prepare);
    await comes(() => page.locator("#sheet").getAttribute("data-revision"), from);
  });

test("a chosen start may be typed as timecode or as samples", async () => {
  for (const [typed, shown] of [
    ["00:00:01:00 +7", "00:00:01:00 +7"],
    ["48 007", "00:00:01:00 +7"],
    ["00:00:00:12", "00:00:00:12"],
    ["1.5 s", "00:00:01:12 +960"],
  ]) {
    const answer = await range({ "files.from": "chosen", "files.chosenStart": typed });
    assert.equal(answer.status(), 200);
    await refresh();
    await comes(() => page.inputValue("input[name='files.chosenStart']"), shown);
  }
  assert.equal((await range({})).status(), 200);
  await refresh();
});

test("a typed name needs a place in the pattern", async () => {
  assert.equal((await range({ "files.namePattern": "{order}" })).status(), 200);
  await refresh();
  const answer = await post(`${prepare}?handler=Set`, { from, track: "bells", field: "name", value: "Lantern" });
  assert.equal(answer.status(), 400);
  assert.match(await answer.text(), /has no \{track\}/);
  assert.equal((await range({})).status(), 200);
  await refresh();
});

test("a change from an old revision is refused", async () => {
  const answer = await post(`${prepare}?handler=Set`, { from: "0", track: "bells", field: "treatment", value: "hold back" });
  assert.equal(answer.status(), 409);
  assert.equal((await post(`${prepare.replace(/prepare$/, "build")}?handler=Build`, { from: "0" })).status(), 409);
  for (const handler of ["Undo", "Redo"]) {
    const late = await post(`${prepare}?handler=${handler}`, { from: "99" });
    assert.equal(late.status(), 409);
    assert.match(await late.text(), /made revision \d+ in the meantime/);
  }
  assert.equal((await post(`${prepare}?handler=OpenRevision`, { from: "99", number: "1" })).status(), 409);
  assert.equal((await post(`${intake}?handler=Place`, { from: "0", item: "x", rule: "SessionStart" })).status(), 409);
});

test("a form without its token is refused", async () => {
  const answer = await post(`${prepare}?handler=Set`, { from, track: "bells", field: "treatment", value: "hold back" }, {});
  assert.equal(answer.status(), 400);
  await refresh();
  await comes(() => page.locator("#rows tr.heldrow[data-track=bells]").count(), 0);
});

test("a track that is not there and a treatment that it cannot have change nothing", async () => {
  assert.equal((await post(`${prepare}?handler=Set`, { from, track: "nobody", field: "treatment", value: "hold back" })).status(), 400);
  const answer = await post(`${prepare}?handler=Set`, { from, track: "bells", field: "treatment", value: "notes" });
  assert.equal(answer.status(), 200);
  await page.goto(prepare);
  await comes(() => page.locator("#sheet").getAttribute("data-revision"), from);
});

test("positions are converted exactly, and what is no place is refused", async () => {
  const at = async (kind, text) => {
    const a = await page.request.get(`${prepare.replace(/prepare$/, "position")}?kind=${kind}&text=${encodeURIComponent(text)}`);
    return a.ok() ? a.json() : a.status();
  };
  // 76 quarters a minute: bar 2 begins after 4 · 60/76 s.
  const bar2 = await at("bars", "2.1.0");
  assert.equal(bar2.sample, Math.round((48000 * 240) / 76));
  assert.equal(bar2.bars, "2.1.0");
  assert.equal((await at("timecode", "00:00:02:00")).sample, 96000);
  assert.equal((await at("seconds", "1.5")).sample, 72000);
  assert.equal((await at("samples", "−480")).sample, -480);
  for (const [kind, text] of [
    ["samples", "x"],
    ["timecode", "00:00:00:99"],
    ["bars", "1|0"],
    ["seconds", ""],
    ["hours", "1"],
  ])
    assert.equal(await at(kind, text), 400);
});

test("peaks and samples are only of media of the transfer, and only so many", async () => {
  const survey = await (await page.request.get(prepare.replace(/prepare$/, "survey.json"))).json();
  const sha = survey.media[0].sha,
    base = prepare.replace(/\/prepare$/, "");
  const peaks = await page.request.get(`${base}/peaks/${sha}/0`);
  assert.equal((await peaks.body()).length, Math.ceil(survey.media[0].length / 256) * 4);
  const samples = await page.request.get(`${base}/samples/${sha}?from=0&count=100`);
  assert.equal((await samples.body()).length, 400);
  const last = await page.request.get(`${base}/samples/${sha}?from=${survey.media[0].length - 10}&count=100`);
  assert.equal((await last.body()).length, 40, "no more than the file has");
  for (const odd of ["from=0&count=9999999", "from=-1&count=5", "from=0&count=0", "from=x&count=1", `from=${"9".repeat(30)}&count=1`])
    assert.equal((await page.request.get(`${base}/samples/${sha}?${odd}`)).status(), 400, odd);
  for (const path of [
    `peaks/${"0".repeat(64)}/0`,
    `peaks/..%2f..%2fetc/0`,
    `samples/${sha}?from=0&count=9999999`,
    `samples/${sha}?from=0&count=0`,
  ])
    assert.ok((await page.request.get(`${base}/${path}`)).status() >= 400, path);
});

test("nothing longer than a form is taken, signed in or not, and it is said so", async () => {
  const stranger = await page.context().browser().newContext();
  for (const [request, path, headers] of [
    [stranger.request, "/sign-in", {}],
    [stranger.request, "/open-a-room", {}],
    [page.request, `${new URL(prepare).pathname}?handler=Set`, { "X-Request-Token": token }],
    [page.request, "/uploads", { "Tus-Resumable": "1.0.0" }],
  ]) {
    const answer = await request.post(address + path, {
      headers: { ...headers, "Content-Type": "application/x-www-form-urlencoded" },
      data: `Email=${"x".repeat(2 << 20)}`,
      maxRedirects: 0,
    });
    assert.equal(answer.status(), 413, path);
    assert.match(await answer.text(), /Too much at once/);
  }
  await stranger.close();
});

test("who is still sending what is too long reads the answer all the same", async () => {
  const { hostname, port } = new URL(address);
  const answer = await new Promise((done, failed) => {
    const socket = dial({ host: hostname, port: Number(port) });
    let said = "";
    socket.setEncoding("latin1").on("error", failed);
    socket.on("data", part => (said += part)).on("close", () => done(said));
    socket.write(`POST /sign-in HTTP/1.1\r\nHost: ${hostname}\r\nConnection: close\r\nContent-Length: ${16 << 17}\r\n\r\n`);
    (async () => {
      for (let i = 0; i < 16; i++) {
        await new Promise(go => setTimeout(go, 50));
        await new Promise(go => socket.write("x".repeat(1 << 17), go));
      }
    })();
  });
  assert.match(answer, /^HTTP\/1.1 413 /);
  assert.match(answer, /Too much at once/);
});

test("one person listens to so much at once and no more, and again when something has ended", async () => {
  const connect = path =>
    new Promise(done => {
      const request = get(address + path, { headers: { cookie } }, answer => {
        // An answer that nobody reads holds its connection, and this file, until the server gives up.
        if (answer.statusCode !== 200) request.destroy();
        done({ status: answer.statusCode, end: () => request.destroy() });
      });
      request.on("error", () => {});
    });
  const cookie = (await context.cookies()).map(c => `${c.name}=${c.value}`).join("; ");
  const path = `${new URL(await stage(page, "Orrery Suite", "listen")).pathname}?from=0`;
  const playing = [];
  for (let i = 0; i < 4; i++) playing.push(await connect(path));
  assert.deepEqual(
    playing.map(p => p.status),
    [200, 200, 200, 200],
  );
  assert.equal((await connect(path)).status, 429);
  playing.forEach(p => p.end());
  let again = await connect(path);
  for (let tries = 0; again.status === 429 && tries < 100; tries++, again = await connect(path))
    await new Promise(done => setTimeout(done, 100));
  assert.equal(again.status, 200);
  again.end();
});

test("every answer forbids foreign scripts and frames", async () => {
  for (const path of ["/sign-in", "/", "/css/desk.css", "/nowhere"]) {
    const headers = (await page.request.get(address + path)).headers();
    assert.match(headers["content-security-policy"], /script-src 'self'; .*frame-ancestors 'none'/);
    assert.equal(headers["x-content-type-options"], "nosniff");
  }
});

test("the upload protocol says its version and what it can", async () => {
  const answer = await page.request.fetch(`${address}/uploads`, { method: "OPTIONS" });
  assert.equal(answer.headers()["tus-version"], "1.0.0");
  assert.match(answer.headers()["tus-extension"], /creation.*checksum/);
  const other = await page.request.post(`${address}/uploads`, { headers: { "Tus-Resumable": "0.2.2" } });
  assert.deepEqual([other.status(), other.headers()["tus-version"]], [412, "1.0.0"]);
});

test("names are shown and never run", async () => {
  await page.goto(address);
  const name = `<img src=x onerror="document.title='broken'">`;
  await page.fill("input[name=Name]", name);
  await page.click("button.main");
  await page.waitForURL(/intake$/);
  assert.equal(await page.locator(".facts h1").evaluate(h => h.firstChild.textContent.trim()), name);
  await comes(() => page.locator(".facts img").count(), 0);
  assert.doesNotMatch(await page.title(), /^broken/);
});

test("empty stages say what to do and break nothing", async () => {
  const base = page.url().replace(/intake$/, "");
  for (const [name, words] of [
    ["survey", /Bring the session in/],
    ["prepare", /Bring the session in/],
    ["build", /Bring the session in/],
    ["proof", /Build first/],
    ["handover", /Build one first/],
  ]) {
    await page.goto(base + name);
    await comes(() => page.locator(".first").innerText(), words);
  }
});
