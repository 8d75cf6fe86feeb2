import { createRouter } from "sv-router";
import Campaign from "./jobs/Campaign.svelte";
import Jobs from "./jobs/Jobs.svelte";
import Shop from "./jobs/Shop.svelte";
import JobFrame from "./frame/JobFrame.svelte";
import HandoffStation from "./stations/handoff/HandoffStation.svelte";
import InspectStation from "./stations/inspect/InspectStation.svelte";
import MarksStation from "./stations/marks/MarksStation.svelte";
import PartStation from "./stations/part/PartStation.svelte";
import RosterStation from "./stations/roster/RosterStation.svelte";

// a mark and a finding are named in the address too: ?mark=…&check=…
const { navigate, route: here } = createRouter({
  "/": Jobs,
  "/many/:id": Campaign,
  "/shop": Shop,
  "/jobs/:id": {
    "/part": PartStation,
    "/roster": RosterStation,
    "/marks": MarksStation,
    "/inspect": InspectStation,
    "/handoff": HandoffStation,
    layout: JobFrame,
  },
  "*": Jobs,
});

export const route = here;

/** Goes to a station of a job; `named` names a mark and a check. */
export function go(job: string, station: string, named: Record<string, string> = {}): void {
  void navigate(`/jobs/${job}/${station}` as never, { search: named } as never);
}

/** Goes to a change of many jobs. */
export function toMany(id: string): void {
  void navigate(`/many/${id}` as never);
}
