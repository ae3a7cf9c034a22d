package bait

import (
	"math"

	"cloudburst/core/measure"
)

// ThicknessAt is how thick the bait is at a point of a photo of it, mm, where its nose and the end of its tail lie at two others: it is
// seen in its main view, with what is up in the photo up. Points are in px, y down.
func (s *Shape) ThicknessAt(nose, tail, at [2]float64) (float64, error) {
	dx, dy := tail[0]-nose[0], tail[1]-nose[1]
	long := math.Hypot(dx, dy)
	if !(long > 20) {
		return 0, measure.Faulty("tail", "point at the nose, and then at the far end of the tail")
	}
	dx, dy = dx/long, dy/long
	upX, upY := dy, -dx // of the two across, the one that points up the photo
	if upY > 0 {
		upX, upY = -upX, -upY
	}
	mmPerPX := (s.ToX - s.FromX) / long
	x := s.FromX + ((at[0]-nose[0])*dx+(at[1]-nose[1])*dy)*mmPerPX
	u := ((at[0]-nose[0])*upX + (at[1]-nose[1])*upY) * mmPerPX
	mm := s.At(x, u, s.Main()).MM
	if !(mm > 0) {
		return 0, measure.Faulty("at", "this mold's bait does not reach there; is it the right mold, and do nose and tail lie where you pointed?")
	}
	return mm, nil
}
