package colour

import "math"

// Lab is a CIELAB colour, relative to the white of the light it was seen in.
type Lab struct {
	L float64 `json:"L" minimum:"0" maximum:"200" doc:"CIELAB lightness, 0 black to 100 white"`
	A float64 `json:"a" minimum:"-200" maximum:"200" doc:"CIELAB a*, green (negative) to red"`
	B float64 `json:"b" minimum:"-200" maximum:"200" doc:"CIELAB b*, blue (negative) to yellow"`
}

const labEpsilon, labKappa = 216.0 / 24389, 24389.0 / 27 // CIE 15, exact rationals

// Lab relative to a white.
func (t XYZ) Lab(white XYZ) Lab {
	fx, fy, fz := labF(t.X/white.X), labF(t.Y/white.Y), labF(t.Z/white.Z)
	return Lab{116*fy - 16, 500 * (fx - fy), 200 * (fy - fz)}
}

func labF(t float64) float64 {
	if t > labEpsilon {
		return math.Cbrt(t)
	}
	return (labKappa*t + 16) / 116
}

// XYZ of a Lab colour under the given white.
func (c Lab) XYZ(white XYZ) XYZ {
	fy := (c.L + 16) / 116
	return XYZ{white.X * labInverse(fy+c.A/500), white.Y * labInverse(fy), white.Z * labInverse(fy-c.B/200)}
}

func labInverse(f float64) float64 {
	if c := f * f * f; c > labEpsilon {
		return c
	}
	return (116*f - 16) / labKappa
}

// Chroma is the distance from grey.
func (c Lab) Chroma() float64 { return math.Hypot(c.A, c.B) }

// HueDeg is the hue angle in degrees, 0 to 360 (0 red, 90 yellow, 180 green, 270 blue).
func (c Lab) HueDeg() float64 { return hueDeg(c.A, c.B) }

func hueDeg(a, b float64) float64 {
	if a == 0 && b == 0 {
		return 0
	}
	h := math.Atan2(b, a) * 180 / math.Pi
	if h < 0 {
		h += 360
	}
	return h
}

// DeltaEab is the distance of two colours in Lab, for where many are compared and none is judged.
func DeltaEab(p, q Lab) float64 {
	return math.Sqrt((p.L-q.L)*(p.L-q.L) + (p.A-q.A)*(p.A-q.A) + (p.B-q.B)*(p.B-q.B))
}

// DeltaE00 is the CIEDE2000 difference of two colours (kL = kC = kH = 1).
// Formula and its branches: Sharma, Wu, Dalal, "The CIEDE2000 color-difference formula" (2005).
func DeltaE00(p, q Lab) float64 {
	const pow25to7 = 6103515625.0
	meanC := (math.Hypot(p.A, p.B) + math.Hypot(q.A, q.B)) / 2
	c7 := math.Pow(meanC, 7)
	g := 0.5 * (1 - math.Sqrt(c7/(c7+pow25to7)))
	a1, a2 := (1+g)*p.A, (1+g)*q.A
	c1, c2 := math.Hypot(a1, p.B), math.Hypot(a2, q.B)
	h1, h2 := hueDeg(a1, p.B), hueDeg(a2, q.B)

	dL, dC := q.L-p.L, c2-c1
	var dh float64
	meanH := h1 + h2
	if c1*c2 != 0 {
		// Hues exactly opposite: rounding would pick the branch, so the limit is a hair above 180°.
		const opposite = 180 + 1e-9
		dh = h2 - h1
		switch {
		case dh > opposite:
			dh -= 360
		case dh < -opposite:
			dh += 360
		}
		switch {
		case math.Abs(h1-h2) <= opposite:
			meanH /= 2
		case meanH < 360:
			meanH = (meanH + 360) / 2
		default:
			meanH = (meanH - 360) / 2
		}
	}
	dH := 2 * math.Sqrt(c1*c2) * sinDeg(dh/2)

	meanL, meanCp := (p.L+q.L)/2, (c1+c2)/2
	t := 1 - 0.17*cosDeg(meanH-30) + 0.24*cosDeg(2*meanH) + 0.32*cosDeg(3*meanH+6) - 0.20*cosDeg(4*meanH-63)
	turn := 30 * math.Exp(-math.Pow((meanH-275)/25, 2))
	cp7 := math.Pow(meanCp, 7)
	rC := 2 * math.Sqrt(cp7/(cp7+pow25to7))
	l50 := (meanL - 50) * (meanL - 50)
	sL := 1 + 0.015*l50/math.Sqrt(20+l50)
	sC := 1 + 0.045*meanCp
	sH := 1 + 0.015*meanCp*t
	rT := -sinDeg(2*turn) * rC
	l, c, h := dL/sL, dC/sC, dH/sH
	return math.Sqrt(l*l + c*c + h*h + rT*c*h)
}

func sinDeg(d float64) float64 { return math.Sin(d * math.Pi / 180) }
func cosDeg(d float64) float64 { return math.Cos(d * math.Pi / 180) }
