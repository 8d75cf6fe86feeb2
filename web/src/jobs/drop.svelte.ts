import { api, type Schemas } from "../api/client";
import { person } from "../frame/person.svelte";

export type Unit = Schemas["Unit"];

export interface UnitQuestion {
  file: File;
  mm: number;
  inch: number;
}

/** A part file on its way to the server, which answers with a `T`. The file is kept until its unit is answered. */
export class Drop<T> {
  readonly #path: () => string;

  question = $state.raw<UnitQuestion>();
  trouble = $state("");
  /** Share of the file that is sent, then its name while it is read. */
  progress = $state("");

  /** Stops what is under way. */
  stop = () => {};

  constructor(path: () => string) {
    this.#path = path;
  }

  async send(file: File, unit?: Unit): Promise<T | undefined> {
    this.trouble = "";
    this.question = undefined;
    this.progress = `sending ${file.name} …`;
    const wish = new URLSearchParams({ file: file.name, author: person.name });
    if (unit) wish.set("unit", unit);
    const ticket = crypto.randomUUID();
    wish.set("ticket", ticket);
    let stopped = false;
    let asking: ReturnType<typeof setInterval> | undefined;
    // how far the server is, once it has the file
    const ask = () =>
      void api.GET("/api/readings/{ticket}", { params: { path: { ticket } } }).then(({ data }) => {
        if (!data || !this.progress) return;
        const share = data.percent ? `, ${data.percent} %` : "";
        this.progress = `${file.name}: ${data.stage}${share} …`;
      });
    try {
      const sent = send(`${this.#path()}?${wish}`, file, (share) => {
        this.progress = share < 1 ? `sending ${file.name}, ${Math.round(100 * share)} %` : `reading ${file.name} …`;
        if (share === 1) asking ??= setInterval(ask, 400);
      });
      this.stop = () => {
        stopped = true;
        sent.stop();
      };
      const answer = await sent.answer;
      if (answer.fine) return JSON.parse(answer.text) as T;
      const body = JSON.parse(answer.text) as { detail?: string; unit?: { mm: number; inch: number } };
      if (body.unit) this.question = { file, ...body.unit };
      else this.trouble = `${file.name}: ${body.detail ?? "the server gave no reason"}`;
    } catch {
      if (!stopped)
        this.trouble = `${file.name} did not reach the server. Nothing was changed; try again when it runs.`;
    } finally {
      clearInterval(asking);
      this.progress = "";
    }
    return undefined;
  }
}

interface Answer {
  fine: boolean;
  text: string;
}

/** Sends with progress, which fetch does not tell. */
function send(
  url: string,
  file: File,
  progress: (share: number) => void,
): { answer: Promise<Answer>; stop: () => void } {
  const request = new XMLHttpRequest();
  const answer = new Promise<Answer>((resolve, reject) => {
    request.open("POST", url);
    request.setRequestHeader("content-type", "application/octet-stream");
    request.upload.onprogress = (e) => progress(e.lengthComputable ? e.loaded / e.total : 0);
    request.upload.onload = () => progress(1);
    request.onload = () => resolve({ fine: request.status < 300, text: request.responseText });
    request.onerror = request.onabort = reject;
    request.send(file);
  });
  return { answer, stop: () => request.abort() };
}
