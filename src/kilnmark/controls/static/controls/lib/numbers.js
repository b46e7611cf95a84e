// Numbers as they are shown: as many decimals as mean something. The server's `format_number` does the same.

export function formatNumber(value) {
  const size = Math.abs(value);
  const places = size >= 100 ? 1 : size >= 1 ? 2 : 3;
  return String(Number(Number(value).toFixed(places)));
}
