// A component of several parts; what a later one has in common with an earlier one is its own.
export function withParts(...parts) {
  const all = parts.map((part) => Object.getOwnPropertyDescriptors(part));
  return Object.defineProperties({}, Object.assign({}, ...all));
}
