package bait

import (
	"fmt"
	"math"

	"cloudburst/core/measure"
)

// ThicknessAt is how thick the bait is at a point of a photo of it, mm, where its nose and the end of its tail lie at
// two others: it is seen in its main view, with what is up in the photo up. Points are in px, y down.
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
	mm := s.At(x, u)
	if !(mm > 0) {
		return 0, measure.Faulty(
			"at",
			"this mold's bait does not reach there; is it the right mold, and do nose and tail lie where you pointed?",
		)
	}
	return mm, nil
}

// Marked is a bait on a photo of a shot: its ends, and places of the boundary between two layers, in pixels.
type Marked struct {
	Nose  [2]float64   `json:"nose"`
	Tail  [2]float64   `json:"tail"`
	Marks [][2]float64 `json:"marks" maxItems:"200" nullable:"false"`
}

// FitTo learns how a mold splits two layers from baits marked on a photo.
func (m *Mold) FitTo(marked []Marked) error {
	s := m.Bait()
	var baits [][]Seen
	n := 0
	for _, b := range marked {
		seen, err := SeenOn(&s, b.Nose, b.Tail, b.Marks)
		if err != nil {
			return err
		}
		n += len(seen)
		baits = append(baits, seen)
	}
	split, top, err := FitSplit(&s, baits, m.Split)
	if err != nil {
		return err
	}
	split.FittedSay = fmt.Sprintf(
		"%d places on a photo; the boundary lay at %s %% of the height", n, measure.Number(50*(top+1), 0),
	)
	m.Split = split
	return nil
}
