// A fade on the piece: its two ends, and the middle where half of the way is reached; dragged, or moved by the arrow keys.

import { fromPx, lengthPx } from "../../controls/lib/layout.js";
import { PointsTarget } from "./points_target.js";

const NAMES = {
  first: "Start of the fade",
  second: "End of the fade",
  middle: "Half way of the fade",
};

export class FadeTarget extends PointsTarget {
  label = "Fade moved";

  get name() {
    return "Fade";
  }
  get box() {
    return null;
  }
  // It lies on the page, whatever its mark lies in.
  get laid() {
    return [];
  }
  get fade() {
    return this.live ?? this.session.at(this.path);
  }

  px(name) {
    return lengthPx(this.fade[name], this.page.ppi, this.page.height);
  }
  get first() {
    return [this.px("x0"), this.px("y0")];
  }
  get second() {
    return [this.px("x1"), this.px("y1")];
  }
  get middle() {
    const [a, b] = [this.first, this.second];
    return [0, 1].map((n) => a[n] + (b[n] - a[n]) * this.fade.middle);
  }

  parts(handles, make) {
    if (!this.fade) return [];
    const at = (point) => handles.stage.view.toStage(...point);
    const [[x1, y1], [x2, y2]] = [at(this.first), at(this.second)];
    const grips = ["first", "second", "middle"].map((side) => {
      const [cx, cy] = handles.within(at(this[side]));
      return make("circle", {
        class: `fade-grip ${side}`,
        cx,
        cy,
        r: side === "middle" ? 7 : 9,
        tabindex: 0,
        role: "slider",
        "data-side": side,
        "aria-label": NAMES[side],
        "aria-valuenow": Math.round(this.fade.middle * 100),
      });
    });
    return [
      make("line", { class: "guide-back", x1, y1, x2, y2 }),
      make("line", { class: "guide", x1, y1, x2, y2 }),
      ...grips,
    ];
  }

  move(side, [x, y]) {
    const fade = this.fade;
    if (side === "middle") {
      const [a, b] = [this.first, this.second];
      const [dx, dy] = [b[0] - a[0], b[1] - a[1]];
      const share = ((x - a[0]) * dx + (y - a[1]) * dy) / Math.max(dx * dx + dy * dy, 1e-6);
      const middle = Math.min(Math.max(Math.round(share * 1000) / 1000, 0.02), 0.98);
      this.draft({ ...fade, middle });
    } else {
      const [across, down] = side === "first" ? ["x0", "y0"] : ["x1", "y1"];
      const length = (name, px) => fromPx(px, fade[name].unit, this.page.ppi, this.page.height);
      this.draft({ ...fade, [across]: length(across, x), [down]: length(down, y) });
    }
  }

  at(side) {
    return this[side];
  }
}
