import type { Told } from "../api/client";

/** Listens to what happens on the server. Returns how to stop. `again` asks for everything anew: after a gap. */
export function listen(told: (what: Told) => void, again: () => void): () => void {
  let source: EventSource;
  let opened = false;
  function open() {
    source = new EventSource("/api/events");
    source.onopen = () => {
      if (opened) again();
      opened = true;
    };
    source.onmessage = (message) => told(JSON.parse(message.data) as Told);
    source.addEventListener("lagged", again);
  }
  // a page that was left may be kept to come back to; its stream would hold one of the few lines to the server
  const left = () => source.close();
  const back = (event: PageTransitionEvent) => {
    if (event.persisted) open();
  };
  open();
  addEventListener("pagehide", left);
  addEventListener("pageshow", back);
  return () => {
    removeEventListener("pagehide", left);
    removeEventListener("pageshow", back);
    source.close();
  };
}
