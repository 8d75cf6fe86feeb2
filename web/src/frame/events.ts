import type { Told } from "../api/client";

/** Listens to what happens on the server. Returns how to stop. `again` asks for everything anew: after a gap. */
export function listen(told: (what: Told) => void, again: () => void): () => void {
  const source = new EventSource("/api/events");
  let opened = false;
  source.onopen = () => {
    if (opened) again();
    opened = true;
  };
  source.onmessage = (message) => told(JSON.parse(message.data) as Told);
  source.addEventListener("lagged", again);
  return () => source.close();
}
