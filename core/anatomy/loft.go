package anatomy

import (
	"math"

	"gonum.org/v1/gonum/interp"
)

// station is a body's section at one place along it.
type station struct {
	// how far it reaches over and under its middle, half its width, and how high the middle lies
	x, up, down, half, middle float64
}

// loft is a body along x.
type loft struct {
	stations  []station
	nose, end float64 // how long its caps are
	power     float64 // of its sections: 2 an ellipse, more is boxier
	rings     func(x float64) float64
}

// tableMM is how closely profiles are tabled.
const tableMM = 0.1

// profile is a section's measures, and how they change along x.
type profile struct{ up, down, half, middle float64 }

func (l loft) part() part {
	n := len(l.stations)
	first, last := l.stations[0].x, l.stations[n-1].x
	t := l.tabled(first, last)
	high, low, wide := math.Inf(-1), math.Inf(1), 0.0
	for _, q := range t.at {
		high, low, wide = max(high, q.middle+q.up), min(low, q.middle-q.down), max(wide, q.half)
	}
	power := l.power
	if power == 0 {
		power = 2
	}
	return part{from: Vec{first, low, -wide}, to: Vec{last, high, wide}, d: func(p Vec) float64 {
		q, s := t.profile(p[0])
		y, h, dh := p[1]-q.middle, q.up, s.up
		sign := 1.0
		if y < 0 {
			y, h, dh, sign = -y, q.down, s.down, -1
		}
		z := math.Abs(p[2])
		xi, dxi := 0.0, 0.0
		if off := first + l.nose - p[0]; off > 0 {
			xi, dxi = off/l.nose, -1/l.nose
		} else if off := p[0] - (last - l.end); off > 0 {
			xi, dxi = off/l.end, 1/l.end
		}
		yh, zw := y/h, z/q.half
		var a, b, c, sum, a1, b1, c1 float64 // powers, and powers less one
		if power == 2 {
			a, b, c, a1, b1, c1 = yh*yh, zw*zw, xi*xi, yh, zw, xi
			sum = math.Sqrt(a + b + c)
		} else {
			a1, b1, c1 = math.Pow(yh, power-1), math.Pow(zw, power-1), math.Pow(xi, power-1)
			a, b, c = a1*yh, b1*zw, c1*xi
			sum = math.Pow(a+b+c, 1/power)
		}
		deepest := -min(h, q.half)
		if sum < 0.05 {
			return deepest
		}
		k := 1.0
		if power == 2 {
			k = 1 / sum
		} else {
			k = math.Pow(sum, 1-power)
		}
		gy, gz := k*a1/h, k*b1/q.half
		gx := k * (c1*dxi - a*dh/h - b*s.half/q.half - sign*a1/h*s.middle)
		return max(deepest, (sum-1)/math.Sqrt(gx*gx+gy*gy+gz*gz))
	}}
}

// tabled is a loft's profile at even steps from its first station on.
type tabled struct {
	first float64
	at    []profile
}

func (l loft) tabled(first, last float64) tabled {
	xs := make([]float64, len(l.stations))
	var ys [4][]float64
	for i, s := range l.stations {
		xs[i] = s.x
		for k, v := range [4]float64{s.up, s.down, s.half, s.middle} {
			ys[k] = append(ys[k], v)
		}
	}
	var curves [4]interp.FritschButland // cubic, and no higher or lower than its stations
	for k := range curves {
		if err := curves[k].Fit(xs, ys[k]); err != nil {
			panic(err) // stations are written down in this package
		}
	}
	t := tabled{first, make([]profile, int((last-first)/tableMM)+2)}
	for i := range t.at {
		x := min(last, first+float64(i)*tableMM)
		q := profile{curves[0].Predict(x), curves[1].Predict(x), curves[2].Predict(x), curves[3].Predict(x)}
		if l.rings != nil {
			r := l.rings(x)
			q.up, q.down, q.half = q.up-r, q.down-r, q.half-r
		}
		t.at[i] = q
	}
	return t
}

// profile is what it is at x, and its slope, taken over two steps, so that it does not jump.
func (t *tabled) profile(x float64) (q, slope profile) {
	steps := len(t.at)
	v := min(float64(steps-2), max(0, (x-t.first)/tableMM))
	i := int(v)
	f := v - float64(i)
	if v >= float64(steps-2) {
		f = 0
	}
	a, b := &t.at[i], &t.at[i+1]
	q = profile{
		a.up + f*(b.up-a.up), a.down + f*(b.down-a.down), a.half + f*(b.half-a.half), a.middle + f*(b.middle-a.middle),
	}
	c, d := &t.at[max(0, i-1)], &t.at[min(steps-1, i+2)]
	span := tableMM * float64(min(steps-1, i+2)-max(0, i-1))
	return q, profile{
		(d.up - c.up) / span, (d.down - c.down) / span, (d.half - c.half) / span, (d.middle - c.middle) / span,
	}
}

// rings are grooves so deep about a body at a pitch, between two places; sharp is how much narrower they are than what
// stands between.
func rings(from, to, pitch, deep, sharp float64) func(x float64) float64 {
	return func(x float64) float64 {
		if x < from || x > to {
			return 0
		}
		wave := 0.5 + 0.5*math.Cos(2*math.Pi*(x-from)/pitch)
		return deep * math.Pow(wave, sharp) * smooth(from-0.01, from+
			0.6*pitch, x) * (1 - smooth(to-0.6*pitch, to+0.01, x))
	}
}
