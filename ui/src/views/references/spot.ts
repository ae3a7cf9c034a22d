/** A spot on a photo, px: a disc, or an area painted with a brush of that size. */
export interface Spot {
  x: number
  y: number
  radius: number
  stroke?: [number, number][]
}

/** How far apart the middles of a stroke lie, as a share of the brush's radius, and how many there may be. */
export const strokeStep = 0.6
export const mostStrokes = 300
