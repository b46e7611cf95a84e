// What the handles hold: the chosen mark or marks, the sides of the page, or what is being placed by hand.

import { hear, say } from "../events.js";
import { store } from "../store.js";
import { CurveTarget } from "./curve_target.js";
import { drawFrame, drawOutline } from "./drawing.js";
import { FadeTarget } from "./fade_target.js";
import { LineTarget } from "./line_target.js";
import { MarkTarget } from "./mark_target.js";
import { PageEdges } from "./page_edges.js";
import { PoolsTarget } from "./pools_target.js";
import { PageRegionTarget, RegionTarget } from "./region_target.js";
import { SeveralTarget } from "./several_target.js";
import { TextureTarget } from "./texture_target.js";

const FEATHER = { value: 4, unit: "px" }; // of a new region

// The values of a region where a frame or an outline was drawn; there : the region before, if there is one.
function drawnRegion(target, drawn, freehand, there) {
  const shape = freehand
    ? { shape: "outline", outline: drawn.outline }
    : there?.shape === "outline"
      ? { shape: "rectangle" }
      : {};
  return { ...target.values({ ...target.flat(drawn), rotation_deg: 0 }), ...shape };
}

export class Placing {
  constructor() {
    Object.assign(this, { path: null, told: null }); // of what is placed by hand, and as a control told it
    hear("choice-made", () => this.place(null));
    hear("placement-wanted", ({ path }) => this.wanted(path));
    hear("region-wanted", (wanted) => this.draw(wanted));
    hear("sheet-loaded", () => this.tellAgain());
    hear("drag-out-wanted", ({ part }) => this.dragOut(part));
    hear("words-closed", () => this.hold());
  }

  place(path) {
    Object.assign(this, { path: path && JSON.parse(path), told: path });
    this.seeThrough();
    this.hold();
    this.tell();
  }

  tell() {
    say("placing", { path: this.told });
  }

  // A fresh sheet is told what is placed, unless that is gone.
  tellAgain() {
    const { session } = store;
    const held = this.path?.at(-1) === "line" ? this.path.slice(0, -1) : this.path; // where none is set, it lies by itself
    const gone = held && (session.at(held) ?? null) === null;
    if (gone || (held !== this.path && session.at(held).kind !== "gradient")) this.place(null);
    else this.tell();
  }

  wanted(path) {
    this.place(path);
    if (this.path) store.handles.overlay.querySelector(".body")?.focus();
  }

  hold() {
    store.handles.hold(this.target());
  }

  target() {
    const { session, page, choice, several } = store;
    if (this.path) return this.placed(this.path);
    if (several.length > 1) return new SeveralTarget(session, several);
    if (choice.part === "piece") return new PageEdges(session, page);
    return session.mark(choice.part) ? new MarkTarget(session, choice.part, page) : null;
  }

  // What lies at a path, as the handles hold it.
  placed(path) {
    const { session, page, choice } = store;
    if (path.at(-1) === "fade") return new FadeTarget(session, path, choice.part, page);
    if (path.at(-1) === "pools") return new PoolsTarget(session, path, choice.part, page);
    if (path.at(-1) === "points") return new CurveTarget(session, path, choice.part, page);
    if (path.at(-1) === "line") return new LineTarget(session, path, choice.part, page);
    const Target = path.includes("limits")
      ? PageRegionTarget
      : path.at(-1) === "region"
        ? RegionTarget
        : TextureTarget;
    return new Target(session, path, choice.part, page);
  }

  // While the texture of a wear is placed, it is seen over the art.
  seeThrough() {
    const { path } = this;
    const wears =
      path?.at(-1) === "placement" &&
      path.length > 3 &&
      store.session.at(path.slice(0, -2))?.kind === "wear";
    store.stage.seeThrough(wears ? path.at(-3) : null);
  }

  // A shape as large as a frame that is dragged on the piece, and there.
  async dragOut(part) {
    const { session, stage, handles, page } = store;
    const drawn = await drawFrame(stage, handles.overlay);
    const target = new MarkTarget(session, part, page);
    if (!drawn || !target.bySides) return;
    await session.change(target.sized({ ...target.box, ...drawn }), "Dragged out", {
      reload: true,
    });
  }

  async draw({ path, freehand }) {
    const { session, stage, handles } = store;
    const drawn = await (freehand ? drawOutline : drawFrame)(stage, handles.overlay);
    if (!drawn) return;
    const there = session.at(path);
    const values = drawnRegion(this.placed(path), drawn, freehand, there);
    const set = ([name, value]) => ({ op: "set", path: [...path, name], value });
    const edits = there
      ? Object.entries(values).map(set)
      : [{ op: "set", path, value: { shape: "ellipse", feather: FEATHER, ...values } }];
    await session.change(edits, "Region drawn", { reload: true });
    this.place(JSON.stringify(path));
  }
}
