package bait

import (
	"math"
	"strconv"
	"strings"

	"cloudburst/core/measure"
	"cloudburst/core/mesh"
)

// Vec is a place in the bait's own coordinates, or a way, mm.
type Vec = mesh.Vec

// View is how a bait is held: what lies to the right of the picture, up, and towards the one who looks, in the bait's
// own coordinates.
type View [3]Vec

// The views that have a name. From the side the nose lies to the left and the back up; rolled towards you the back
// comes up, away the belly.
var (
	Side    = Rolled(0)
	Back    = Rolled(90)
	Belly   = Rolled(-90)
	Quarter = turned(Rolled(28), 0.5)
)

// Rolled is the side view, rolled about the bait's length by so many degrees.
func Rolled(degrees float64) View {
	sin, cos := math.Sincos(degrees * math.Pi / 180)
	return View{{1, 0, 0}, {0, cos, -sin}, {0, sin, cos}}
}

// turned swings a view about the picture's upright.
func turned(v View, radians float64) View {
	sin, cos := math.Sincos(radians)
	return View{v[0].Times(cos).Plus(v[2].Times(sin)), v[1], v[2].Times(cos).Minus(v[0].Times(sin))}
}

// Named are the views by their names.
func Named() map[string]View {
	return map[string]View{"side": Side, "back": Back, "belly": Belly, "quarter": Quarter}
}

// ParseView reads a view: a name, or a turn of the side view as a quaternion, w,x,y,z in the picture's coordinates.
// Empty is the main view.
func (s *Shape) ParseView(text string) (View, error) {
	if text == "" || text == "main" {
		return s.Main(), nil
	}
	if v, ok := Named()[text]; ok {
		return v, nil
	}
	parts := strings.Split(text, ",")
	var q [4]float64
	long := 0.0
	for i, p := range parts {
		v, err := strconv.ParseFloat(strings.TrimSpace(p), 64)
		if err != nil || i > 3 {
			return Side, badView(text)
		}
		q[i] = v
		long += v * v
	}
	if len(parts) != 4 {
		return Side, badView(text)
	}
	if !(long > 1e-6 && long < 1e6) { // no turn at all
		return s.Main(), nil
	}
	by := 1 / math.Sqrt(long)
	// Rounded, so that views that look the same are one.
	for i := range q {
		q[i] = math.Round(q[i]*by*2000) / 2000
	}
	return ofQuaternion(q), nil
}

func badView(text string) error {
	return measure.Faulty(
		"view", "%q is no view; name one (side, back, belly, quarter) or give a turn as four numbers", text,
	)
}

func ofQuaternion(q [4]float64) View {
	n := 2 / (q[0]*q[0] + q[1]*q[1] + q[2]*q[2] + q[3]*q[3])
	w, x, y, z := q[0], q[1], q[2], q[3]
	return View{
		{1 - n*(y*y+z*z), n * (x*y - z*w), n * (x*z + y*w)},
		{n * (x*y + z*w), 1 - n*(x*x+z*z), n * (y*z - x*w)},
		{n * (x*z - y*w), n * (y*z + x*w), 1 - n*(x*x+y*y)},
	}
}

// Of is where a place of the bait comes to lie: right, up, near.
func (v *View) Of(p Vec) Vec { return Vec{v[0].Dot(p), v[1].Dot(p), v[2].Dot(p)} }

// Back is the place of the bait that lies there.
func (v *View) Back(q Vec) Vec {
	return v[0].Times(q[0]).Plus(v[1].Times(q[1])).Plus(v[2].Times(q[2]))
}
