// The line on the stage that says what its picture is: a draft, exact, or something that does not fire.

import { hear } from "../events.js";

const WAITING = {
  true: "Drawing…",
  false: "The kiln is warming up: the first picture takes a few seconds",
};
const TELLING = {
  draft: "Draft",
  exact: "Exact · this is what fires",
  hand: "Under the hand",
  behind: "Catching up with what you changed…",
};

function words({ quality, share, point, see, without }) {
  if (quality === "hand") return TELLING.hand;
  if (quality === "behind") return TELLING.behind;
  if (quality === "sharpening") return `Draft, ${Math.round(share * 100)} % of it exact`;
  if (without === "treatments") return "All treatments off · not what fires";
  if (without) return "This step off · not what fires";
  if (see) return "Seen through · not what fires";
  return point ? "Part of the way · not what fires" : TELLING[quality];
}

document.addEventListener("alpine:init", () => {
  window.Alpine.data("telling", () => ({
    telling: "",
    tellingClass: "",

    init() {
      this.telling = WAITING[this.$root.dataset.warm];
      hear("picture-told", (picture) => this.tell(picture));
    },

    tell(picture) {
      const { quality, point, see, without } = picture;
      this.tellingClass =
        point || see || without ? "partial" : quality === "exact" ? "exact" : "draft";
      this.telling = words(picture);
    },
  }));
});
