import type { Schemas } from "../../api/client";
import { optionalNumber } from "../../composables/fields";
import { begins, optionalMeters, sideTyped, smallTyped } from "../../units";

/** A pass while it is planned: what is tapped, and what is typed as it stands in its fields. */
export interface PassFields {
  key: number;
  what: Schemas["PassKind"];
  name: string;
  share: number | null;
  density: NonNullable<Schemas["Pass"]["density"]> | null;
  apart: string;
  block: string;
  meters: string;
  stitch: string;
  top: number;
  below: number;
  machine: number;
  motion: NonNullable<Schemas["Pass"]["motion"]>;
  needle: Schemas["Pass"]["needle"];
  point: Schemas["Pass"]["point"];
}

export const emptyPass = (key: number, what: Schemas["PassKind"]): PassFields => ({
  key,
  what,
  name: "",
  share: null,
  density: null,
  apart: "",
  block: "",
  meters: "",
  stitch: "",
  top: 0,
  below: 0,
  machine: 0,
  motion: what === "ditch" || what === "binding" ? "straight" : "free_motion",
  needle: null,
  point: null,
});

/** A pass of a plan as its form begins. */
export function toForm(pass: Schemas["Pass"]): PassFields {
  return {
    ...emptyPass(pass.key, pass.what),
    name: pass.name ?? "",
    share: pass.share ?? null,
    density: pass.density ?? null,
    apart: pass.lines_apart_mm ? begins.small(pass.lines_apart_mm) : "",
    block: pass.block_m ? begins.side(pass.block_m) : "",
    meters: pass.meters ? begins.stretch(pass.meters) : "",
    stitch: pass.stitch_mm ? String(pass.stitch_mm) : "",
    top: pass.top ?? 0,
    below: pass.below ?? 0,
    machine: pass.machine ?? 0,
    motion: pass.motion ?? "free_motion",
    needle: pass.needle ?? null,
    point: pass.point ?? null,
  };
}

/** A pass as it is sent; what is no number is thrown with its sentence. */
export function toPass(form: PassFields): Schemas["Pass"] {
  return {
    key: form.key,
    what: form.what,
    name: form.name,
    share: form.share,
    density: form.density,
    lines_apart_mm: form.apart.trim() ? smallTyped("passes", form.apart) : null,
    block_m: form.block.trim() ? sideTyped("passes", form.block) : null,
    meters: optionalMeters("passes", form.meters),
    stitch_mm: optionalNumber("passes", form.stitch),
    top: form.top || null,
    below: form.below || null,
    machine: form.machine || null,
    motion: form.motion,
    needle: form.needle,
    point: form.point,
  };
}
