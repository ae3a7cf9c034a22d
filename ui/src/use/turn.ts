/** How a bait is held, as a quaternion w, x, y, z in the picture's own directions: right, up, towards you. */
export type Turn = [number, number, number, number]

const times = (a: Turn, b: Turn): Turn => [
  a[0] * b[0] - a[1] * b[1] - a[2] * b[2] - a[3] * b[3],
  a[0] * b[1] + a[1] * b[0] + a[2] * b[3] - a[3] * b[2],
  a[0] * b[2] - a[1] * b[3] + a[2] * b[0] + a[3] * b[1],
  a[0] * b[3] + a[1] * b[2] - a[2] * b[1] + a[3] * b[0],
]
const about = (axis: 1 | 2 | 3, radians: number): Turn => {
  const q: Turn = [Math.cos(radians / 2), 0, 0, 0]
  q[axis] = Math.sin(radians / 2)
  return q
}

const named: Record<string, Turn> = {
  side: [1, 0, 0, 0],
  back: about(1, Math.PI / 2),
  belly: about(1, -Math.PI / 2),
  quarter: times(about(2, 0.5), about(1, (28 * Math.PI) / 180)),
}

/** The turn of a view as the address has it: a name, or four numbers. */
export function turnOf(view: string, main: string): Turn {
  const n = view.split(',').map(Number)
  if (n.length === 4 && n.every((v) => Number.isFinite(v)) && n.some((v) => v !== 0)) return n as Turn
  return named[view] ?? named[main] ?? named.side!
}

/** Dragged to the right it turns to the right, dragged down it turns down: across the picture is half a turn. */
export function dragged(from: Turn, right: number, down: number): Turn {
  const q = times(times(about(2, right * Math.PI), about(1, down * Math.PI)), from)
  const long = Math.hypot(...q)
  return q.map((v) => v / long) as Turn
}

export const viewOf = (q: Turn) => q.map((v) => String(Number(v.toFixed(4)))).join(',')

export const views = [
  { key: 'side', name: 'Side' },
  { key: 'back', name: 'Back' },
  { key: 'belly', name: 'Belly' },
  { key: 'quarter', name: 'Three-quarter' },
]
