// Regions that the handles hold.

import { fromPx, inFrame, lengthPx, outOf, turned } from "../../controls/lib/layout.js";
import { TextureTarget } from "./texture_target.js";

// A region that lies in the frame of what it is kept with.
export class RegionTarget extends TextureTarget {
  get name() {
    return "Region";
  }
  get label() {
    return "Region moved on the piece";
  }

  get box() {
    const { frame, page } = this;
    const region = this.session.at(this.path);
    if (!region) return null;
    const px = (name) => lengthPx(region[name], page.ppi, frame.unit);
    const [x, y] = outOf(frame, [px("x"), px("y")]);
    return {
      x,
      y,
      width: px("width"),
      height: px("height"),
      rotation_deg: frame.rotation_deg + region.rotation_deg,
    };
  }

  values(box) {
    const { frame, page } = this;
    const region = this.session.at(this.path);
    const [x, y] = inFrame(frame, [box.x, box.y]);
    const told = { x, y, width: box.width, height: box.height };
    const lengths = Object.entries(told).map(([name, px]) => [
      name,
      fromPx(px, region?.[name].unit ?? "px", page.ppi, frame.unit),
    ]);
    return {
      ...Object.fromEntries(lengths),
      rotation_deg: turned(box.rotation_deg - frame.rotation_deg),
    };
  }
}

// A region that holds a landing lies on the page itself.
export class PageRegionTarget extends RegionTarget {
  get frame() {
    return { x: 0, y: 0, unit: this.page.height, rotation_deg: 0 };
  }
}
