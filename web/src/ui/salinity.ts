/** Salinity colour: one scale by the logarithm of TDS, from 10 mg/L (fresh) to 2000 mg/L (salty). Never without a figure. */
const STOPS = {
  light: ['#1f8a94', '#3f7f91', '#8a6f3c', '#8c4628'],
  dark: ['#5cc8d0', '#7fb6c8', '#cdb076', '#d98a62'],
} as const;

const rgb = (hex: string): [number, number, number] => [
  parseInt(hex.slice(1, 3), 16),
  parseInt(hex.slice(3, 5), 16),
  parseInt(hex.slice(5, 7), 16),
];

/** CSS colour of a salinity. @param tdsMgL 0 or more, mg/L */
export function salinityColour(tdsMgL: number, scheme: 'light' | 'dark'): string {
  const stops = STOPS[scheme];
  const t = Math.min(1, Math.max(0, Math.log(Math.max(1, tdsMgL) / 10) / Math.log(200)));
  const x = t * (stops.length - 1);
  const i = Math.min(stops.length - 2, Math.floor(x));
  const a = rgb(stops[i] ?? stops[0]);
  const b = rgb(stops[i + 1] ?? stops[0]);
  const mix = a.map((v, k) => Math.round(v + ((b[k] ?? 0) - v) * (x - i)));
  return `rgb(${mix.join(' ')})`;
}

/** Stroke width of a flow, px: square root, so that a drain and a tap both read. @param flowLMin 0 or more */
export function flowWidth(flowLMin: number): number {
  return flowLMin <= 0 ? 1 : Math.min(14, 2 + 7 * Math.sqrt(flowLMin));
}
