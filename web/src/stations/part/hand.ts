import type { Schemas } from "../../api/client";
import type { Point } from "../../view3d/table";

export type Steel = Schemas["Steel"];
export type KeepOut = Schemas["KeepOut"];
export type KeepOutKind = Schemas["KeepOutKind"];
export type Spot = Schemas["Spot"];

/** What a press or a stroke on the part does, other than picking a face. */
export type Hand =
  | { does: "edge"; at: number | null }
  | { does: "circle"; kind: KeepOutKind; radius: number }
  | { does: "join"; face: number }
  | { does: "divide"; face: number; radius: number }
  | {
      does: "paint";
      radius: number;
      rub: boolean;
      into: { keepOut: string } | { kind: KeepOutKind } | { steel: Steel };
    };

/** One touch of the brush with the side it is on. */
export interface Touch {
  at: Point;
  out: Point;
  radius: number;
}

export const keepOutWord: Record<KeepOutKind, string> = {
  polished: "polished face",
  sealing: "sealing face",
  clamping: "clamping face",
  gate: "gate",
  ejector_pin: "ejector pin",
  weld_line: "weld line",
};

export const keepOutKinds = (Object.keys(keepOutWord) as KeepOutKind[]).map((value) => ({
  value,
  says: keepOutWord[value],
}));
