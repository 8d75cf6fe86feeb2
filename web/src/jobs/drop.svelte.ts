import type { Schemas } from "../api/client";
import { person } from "../frame/person.svelte";

export type Unit = Schemas["Unit"];

export interface UnitQuestion {
  file: File;
  mm: number;
  inch: number;
}

/** A part file on its way to become a job. The file is kept until its unit is answered. */
export class Drop {
  question = $state.raw<UnitQuestion>();
  trouble = $state("");
  /** Share of the file that is sent, then its name while it is read. */
  progress = $state("");

  async begin(file: File, unit?: Unit): Promise<string | undefined> {
    this.trouble = "";
    this.question = undefined;
    this.progress = `sending ${file.name} …`;
    const wish = new URLSearchParams({ file: file.name, author: person.name });
    if (unit) wish.set("unit", unit);
    try {
      const answer = await send(`/api/jobs?${wish}`, file, (share) => {
        this.progress = share < 1 ? `sending ${file.name}, ${Math.round(100 * share)} %` : `reading ${file.name} …`;
      });
      const body = JSON.parse(answer.text) as { id?: string; problem?: string; unit?: { mm: number; inch: number } };
      if (body.id) return body.id;
      if (body.unit) this.question = { file, ...body.unit };
      else this.trouble = `${file.name}: ${body.problem ?? "the server gave no reason"}`;
    } catch {
      this.trouble = `${file.name} did not reach the server. Nothing was changed; try again when it runs.`;
    } finally {
      this.progress = "";
    }
    return undefined;
  }
}

/** Sends with progress, which fetch does not tell. */
function send(url: string, file: File, progress: (share: number) => void): Promise<{ text: string }> {
  return new Promise((resolve, reject) => {
    const request = new XMLHttpRequest();
    request.open("POST", url);
    request.setRequestHeader("content-type", "application/octet-stream");
    request.upload.onprogress = (e) => progress(e.lengthComputable ? e.loaded / e.total : 0);
    request.onload = () => resolve({ text: request.responseText });
    request.onerror = reject;
    request.send(file);
  });
}
