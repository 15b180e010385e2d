/** Seconds, millimeters pulled, millinewton. */
export type Sample = [number, number, number];

/** A stream of the live gauge, at an address below `/api/gauge/`. */
export function openGauge(path: string) {
  const scheme = location.protocol === "https:" ? "wss" : "ws";
  return new WebSocket(`${scheme}://${location.host}/api/gauge/${path}`);
}

/** What a stream has brought, in a ring of fixed size, so that an hour of streaming takes no more than a minute. */
export class LiveTrace {
  static readonly KEPT = 50 * 120;
  private readonly t = new Float64Array(LiveTrace.KEPT);
  private readonly mm = new Float64Array(LiveTrace.KEPT);
  private readonly mn = new Float64Array(LiveTrace.KEPT);
  /** Samples ever added; the drawing compares it to what it has drawn. */
  total = 0;

  clear() {
    this.total = 0;
  }

  add(samples: readonly Readonly<Sample>[]) {
    for (const [t, mm, mn] of samples) {
      const i = this.total % LiveTrace.KEPT;
      this.t[i] = t;
      this.mm[i] = mm;
      this.mn[i] = mn;
      this.total += 1;
    }
  }

  get size() {
    return Math.min(this.total, LiveTrace.KEPT);
  }

  /** The sample `back` places before the newest, as seconds and millinewton. */
  at(back: number): [number, number] {
    const i = (this.total - 1 - back + LiveTrace.KEPT) % LiveTrace.KEPT;
    return [this.t[i] ?? 0, this.mn[i] ?? 0];
  }

  /** Pulled length and tension, oldest first. */
  columns(): [number[], number[]] {
    const first = this.total - this.size;
    const places = Array.from({ length: this.size }, (_, n) => (first + n) % LiveTrace.KEPT);
    return [places.map((i) => this.mm[i] ?? 0), places.map((i) => this.mn[i] ?? 0)];
  }

  /** As a recorded pull, in the form that the program writes and reads; what the stand-in made up says so. */
  csv(standIn: boolean): string {
    const [mm, mn] = this.columns();
    const mark = standIn ? ",1" : "";
    const rows = mm.map((length, i) => `${length.toFixed(2)},${(mn[i] ?? 0).toFixed(2)}${mark}\n`);
    return `length_mm,tension_mn${standIn ? ",stand_in" : ""}\n${rows.join("")}`;
  }
}
