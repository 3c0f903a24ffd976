// Whether the time of an answer, or of the next one on its connection, tells who has an account: node bench/doors.mjs
// Starts an application of its own with a mail server that takes letters slowly, and asks each door for addresses with an account and without, in turn. Prints the middle of
// each and how often a known address took longer than an unknown one: 0.5 tells nothing.
import { execFileSync } from "node:child_process";
import { mkdtempSync, rmSync } from "node:fs";
import { Agent, request } from "node:http";
import { createServer } from "node:net";
import { tmpdir } from "node:os";
import { join } from "node:path";

const People = 30;
const root = new URL("..", import.meta.url).pathname;
const data = mkdtempSync(join(tmpdir(), "lyro-doors-"));
const [port, databasePort] = [5993, 55993];
const password = "lantern orrery tarn-7";
const known = n => `engineer-${n}@quillfeather.example`;
const unknown = n => `nobody-${n}@quillfeather.example`;

const mail = createServer(line => {
  let letter = false;
  line.on("error", () => {}).write("220 slow\r\n");
  line.on("data", said => {
    const text = said.toString("latin1");
    if (letter && !text.endsWith("\r\n.\r\n")) return;
    const answer = letter ? "250 taken" : text.startsWith("DATA") ? "354 go on" : "250 good";
    letter = !letter && text.startsWith("DATA");
    setTimeout(() => line.write(`${answer}\r\n`), 30);
  });
}).listen(0, "127.0.0.1");

function lyrotrans(word, settings = {}) {
  const environment = { LYRO_DATA: data, LYRO_PORT: port, LYRO_DB_PORT: databasePort, LYRO_DEMO: "no", LYRO_PROXIES: "127.0.0.1" };
  execFileSync(join(root, "lyrotrans"), [word], { env: { ...process.env, ...environment, ...settings }, stdio: ["ignore", "ignore", "inherit"] });
}

/** Somebody at a machine of their own, on one connection. */
class Stranger {
  #agent = new Agent({ keepAlive: true, maxSockets: 1 });
  #from = `10.${[0, 0, 0].map(() => Math.floor(Math.random() * 256)).join(".")}`;
  #cookie = "";

  async ask(method, path, body) {
    const headers = { "X-Forwarded-For": this.#from, Cookie: this.#cookie };
    if (body) headers["Content-Type"] = "application/x-www-form-urlencoded";
    const since = performance.now();
    const [status, text, cookies] = await new Promise((done, failed) => {
      const asked = request({ port, path, method, headers, agent: this.#agent }, answer => {
        let said = "";
        answer.setEncoding("utf8").on("data", d => (said += d));
        answer.on("end", () => done([answer.statusCode, said, answer.headers["set-cookie"]]));
      }).on("error", failed);
      asked.end(body);
    });
    if (cookies) this.#cookie = cookies.map(c => c.split(";")[0]).join("; ");
    return { took: performance.now() - since, status, text };
  }

  /** Sends a form; how long the answer took, and the next one on the connection. */
  async send(path, fields) {
    const token = /name="__RequestVerificationToken"[^>]*value="([^"]+)"/.exec((await this.ask("GET", path)).text)[1];
    const answer = await this.ask("POST", path, new URLSearchParams({ ...fields, __RequestVerificationToken: token }).toString());
    const next = await this.ask("GET", "/alive");
    this.#agent.destroy();
    return { answer: answer.took, next: next.took, status: answer.status };
  }
}

const room = address => ({ Room: "Lantern Street", EngineerName: "Engineer", Email: address, Password: password });
const doors = {
  "a wrong password": ["/sign-in", 6, address => ({ Email: address, Password: "not the one" })],
  "a forgotten password": ["/forgotten", 3, address => ({ Email: address })],
  "a room to open": ["/open-a-room", 3, room],
};

const middle = list => list.toSorted((a, b) => a - b)[list.length >> 1];
function longer(a, b) {
  const pairs = a.flatMap(x => b.map(y => (x > y ? 1 : x === y ? 0.5 : 0)));
  return pairs.reduce((sum, p) => sum + p, 0) / pairs.length;
}

try {
  lyrotrans("start");
  for (let n = 0; n < People; n++) {
    const opened = await new Stranger().send("/open-a-room", room(known(n)));
    if (opened.status !== 302) throw new Error(`A room could not be opened: ${opened.status}.`);
  }
  lyrotrans("stop");
  lyrotrans("start", { LYRO_MAIL: `smtp://127.0.0.1:${mail.address().port}` });
  for (const [name, [path, times, fields]] of Object.entries(doors)) {
    const took = { known: { answer: [], next: [] }, unknown: { answer: [], next: [] } };
    for (let n = 0; n < People * times; n++) {
      // The first of each pair changes, so that neither always goes before.
      for (const who of n % 2 ? ["known", "unknown"] : ["unknown", "known"]) {
        const one = await new Stranger().send(path, fields((who === "known" ? known : unknown)(n % People)));
        if (one.status !== 200) throw new Error(`${name}: ${one.status}`);
        for (const what of ["answer", "next"]) took[who][what].push(one[what]);
      }
    }
    const count = People * times;
    const chance = 2 * Math.sqrt((2 * count + 1) / (12 * count * count));
    for (const what of ["answer", "next"]) {
      const [a, b] = [took.known[what], took.unknown[what]];
      console.log(
        `${name}, ${what}: known ${middle(a).toFixed(1)} ms, unknown ${middle(b).toFixed(1)} ms; known took longer in ${longer(a, b).toFixed(3)} of pairs (0.5 ± ${chance.toFixed(3)} is chance), ${count} each`,
      );
    }
  }
} finally {
  lyrotrans("stop");
  mail.close();
  rmSync(data, { recursive: true, force: true });
}
