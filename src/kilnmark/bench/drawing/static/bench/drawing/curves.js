// The way of a stroke in full: a smooth curve through the points that were set, and how wide it is along it. As
// `kilncore/strokes/curves.py` has it; a test compares them.

const FINEST = 1 / 128;
const [FEWEST, MOST] = [4, 128];
const STEPS = 12; // pieces of a taper
const NEVER = 1e-9;

// How many places a way has at most, by how broad the stroke is: as `kilncore/strokes/files.py` has it.
function mostPlaces(radius) {
  const kept = Math.max(Math.round(radius * 4096), 1) / 4096;
  return Math.floor(Math.min(Math.max(800 / kept, 800), 20000));
}

// Places along a smooth curve through points. corners : numbers of those at which it turns sharply.
export function curve(points, corners = [], closed = false, most = Infinity) {
  const round = closed && points.length > 2;
  const through = round ? [...points, points[0]] : points;
  if (through.length < 3) return through;
  const ways = through.slice(1).map((to, n) => [to[0] - through[n][0], to[1] - through[n][1]]);
  const chords = ways.map(([x, y]) => Math.sqrt(x * x + y * y));
  const knots = chords.map((one) => Math.sqrt(Math.max(one, NEVER)));
  const [leaving, coming] = tangents(ways, knots, new Set(corners), round);
  const found = [through[0]];
  const limit = Math.max(Math.min(MOST, Math.floor(most / chords.length)), FEWEST);
  chords.forEach((chord, n) => {
    const count = Math.min(Math.max(Math.ceil(chord / FINEST), FEWEST), limit);
    for (let k = 1; k <= count; k += 1)
      found.push(between(through[n], through[n + 1], leaving[n], coming[n], knots[n], k / count));
  });
  return found;
}

function tangents(ways, knots, corners, round) {
  const speeds = ways.map((way, n) => way.map((one) => one / knots[n]));
  const count = ways.length;
  const [leaving, coming] = [Array(count), Array(count)];
  for (let n = 0; n < count; n += 1) {
    const after = (n + 1) % count;
    if (corners.has(after) || (after === 0 && !round)) continue;
    const both = [0, 1].map((c) => (ways[n][c] + ways[after][c]) / (knots[n] + knots[after]));
    const tangent = [0, 1].map((c) => speeds[n][c] - both[c] + speeds[after][c]);
    coming[n] = tangent;
    leaving[after] = tangent;
  }
  for (let n = 0; n < count; n += 1) {
    const on = (other) => speeds[n].map((one, c) => (other ? 1.5 * one - 0.5 * other[c] : one));
    const [bare, open] = [!leaving[n], !coming[n]];
    if (bare) leaving[n] = on(open ? null : coming[n]);
    if (open) coming[n] = on(bare ? null : leaving[n]);
  }
  return [leaving, coming];
}

function between(a, b, out, into, knot, u) {
  const [square, cube] = [u * u, u * u * u];
  return [0, 1].map(
    (c) =>
      (2 * cube - 3 * square + 1) * a[c] +
      (cube - 2 * square + u) * (knot * out[c]) +
      (3 * square - 2 * cube) * b[c] +
      (cube - square) * (knot * into[c]),
  );
}

// How long a way is up to each of its points.
export function reached(points) {
  let far = 0;
  return points.map(([x, y], n) => {
    if (n) far += Math.hypot(x - points[n - 1][0], y - points[n - 1][1]);
    return far;
  });
}

// A way with points enough to be told how wide it is: { points, pressures, widths }.
export function tapered(points, pressures, taperIn, taperOut) {
  const at = reached(points);
  const long = at.at(-1);
  const shorter = Math.min(1, long / Math.max(taperIn + taperOut, NEVER));
  const [first, last] = [taperIn * shorter, taperOut * shorter];
  const extra = Array.from({ length: STEPS }, (_, n) => (n + 1) / STEPS);
  const all = [...at, ...extra.map((one) => first * one), ...extra.map((one) => long - last * one)];
  const places = [...new Set(all)].filter((one) => one >= 0 && one <= long).sort((a, b) => a - b);
  const found = { points: [], pressures: [], widths: [] };
  let n = 0;
  for (const place of places) {
    while (n < at.length - 2 && at[n + 1] < place) n += 1;
    const next = Math.min(n + 1, at.length - 1);
    const share = at[next] > at[n] ? (place - at[n]) / (at[next] - at[n]) : 0;
    const mixed = (a, b) => a + (b - a) * share;
    found.points.push([0, 1].map((c) => mixed(points[n][c], points[next][c])));
    found.pressures.push(mixed(pressures[n], pressures[next]));
    found.widths.push(grown(place, first) * grown(long - place, last));
  }
  return found;
}

function grown(far, over) {
  if (over <= 0) return 1;
  const share = Math.min(Math.max(far / over, 0), 1);
  return share * (2 - share);
}

// The stroke as it is drawn: { points, pressures, widths } of what it is told and the points it was given.
export function wholeWay(told, given, pressed) {
  let [points, pressures] = [given, pressed];
  if (told.curved) {
    points = curve(points, told.corners, told.closed, mostPlaces(told.radius));
    pressures = points.map(() => 1);
  } else if (told.closed && points.length > 2) {
    points = [...points, points[0]];
    pressures = [...pressures, pressures[0]];
  }
  let widths = points.map(() => 1);
  if ((told.taper_in || told.taper_out) && !told.closed && points.length > 1)
    ({ points, pressures, widths } = tapered(
      points,
      pressures,
      told.taper_in ?? 0,
      told.taper_out ?? 0,
    ));
  const thins = told.thins ?? 0;
  return {
    points,
    pressures,
    widths: widths.map((one, n) => one * (1 - thins * (1 - pressures[n]))),
  };
}
