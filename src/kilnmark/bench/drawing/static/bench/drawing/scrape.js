// Strokes along the edges of what is drawn on, by a seed: the server lays them as the change is stored.

import { newSeed } from "./seeds.js";

export async function scrapeEdges(drawing, side) {
  const { part, path } = drawing.held;
  await drawing.tipLevels();
  if (!drawing.held) return;
  const edit = { op: "add_scrapes", path, part, brush: drawing.inHand(), seed: newSeed(), side };
  drawing.store([edit], "Edges scraped");
}
