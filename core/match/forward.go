package match

import (
	"math"

	"cloudburst/core/colour"
	"cloudburst/core/optics"
)

// Coefficients are what one unit of a material, or a whole mix, does to light, 1/mm.
type Coefficients struct{ K, S colour.Spectrum }

// View is how an even piece is looked at in air: how thick it is, what it lies on, in which light.
type View struct {
	bands   int // colour.Bands, or fewer that stand for several each
	mm      float64
	ground  colour.Spectrum
	glow    float64 // of the light that comes through, what a room adds to the grey ground
	against bool
	w       [3]colour.Spectrum // of the light for X, Y and Z, so that its white is 1
}

// NewView prepares a view.
func NewView(thicknessMM float64, ground optics.Ground, light colour.Light) *View {
	v := &View{bands: colour.Bands, mm: thicknessMM, ground: ground.Reflectance(), against: ground == optics.Against}
	if ground == optics.Grey {
		v.glow = optics.FromBehind
	}
	white := light.White()
	for b := range colour.Bands {
		var one colour.Spectrum
		one[b] = 1
		t := light.XYZ(&one)
		v.w[0][b], v.w[1][b], v.w[2][b] = t.X/white.X, t.Y/white.Y, t.Z/white.Z
	}
	return v
}

// The plastic's two faces in air. Face k's q = k·cone is at most 0.1, so that 1/(1−q²) is a few terms of its series.
const faceK1, faceKD, faceIn = 0.04, 0.092, 0.596

func init() {
	if (optics.Surface{Directional: faceK1, Diffuse: faceKD, Inside: faceIn}) != optics.InAir {
		panic("match: the faces of plastic in air are not those of package optics")
	}
}

// inside is what the slab does, band by band: its two functions of z, and the share of a beam that comes through unscattered.
type inside struct{ g, h, cone [colour.Bands]float64 }

// Lab is the colour of a mix in this view.
//
// It is optics.Surface's two faces about a slab that is alike from both sides. The light going each way inside then parts into a sum
// and a difference, p and m. R and T have the slab's own denominator, p and m one each, a ground one more: all is kept over their
// product, so that a band is divided once. Two loops, so that the processor has several bands under way in each.
//
// What the mirrors of powders add is in glint.go.
func (v *View) Lab(mix *Coefficients, mirrors []Mirror) colour.Lab {
	t := v.even(mix)
	if len(mirrors) > 0 && !v.against {
		glints := v.glints(mix, mirrors)
		t.X, t.Y, t.Z = t.X+glints.X, t.Y+glints.Y, t.Z+glints.Z
	}
	x, y, z := cubeRoot(t.X), cubeRoot(t.Y), cubeRoot(t.Z)
	return colour.Lab{L: 116*y - 16, A: 500 * (x - y), B: 200 * (y - z)}
}

// even is the light of the even piece.
func (v *View) even(mix *Coefficients) colour.XYZ {
	if byFour {
		var t [3]float64
		if v.against { // called by name, so that nothing escapes
			lightAgainst(&mix.K[0], &mix.S[0], &v.ground[0], &v.w[0][0], v.mm, v.glow, v.bands/4, &t[0])
		} else {
			lightOver(&mix.K[0], &mix.S[0], &v.ground[0], &v.w[0][0], v.mm, v.glow, v.bands/4, &t[0])
		}
		return colour.XYZ{X: t[0], Y: t[1], Z: t[2]}
	}
	return v.evenByOne(mix)
}

func (v *View) evenByOne(mix *Coefficients) colour.XYZ {
	var in inside
	mm := v.mm
	for b := range min(v.bands, colour.Bands) {
		a, s := mix.K[b]*mm, mix.S[b]*mm
		far := a + 2*s
		z := a * far
		if i := int(math.Float64bits(z)>>shift) - firstIndex; uint(i) < intervals {
			n := &slabTable[i]
			d := z - n.z
			in.g[b] = n.g[0] + d*(n.g[1]+d*(n.g[2]+d*n.g[3]))
			in.h[b] = n.h[0] + d*(n.h[1]+d*(n.h[2]+d*n.h[3]))
		} else {
			in.g[b], in.h[b], _ = slabEdge(z)
		}
		if i := int(far * expSteps); uint(i) < expMost*expSteps {
			d := float64(i)*(1.0/expSteps) + 0.5/expSteps - far
			in.cone[b] = expTable[i] * (1 + d*(1+d*(0.5+d*(1.0/6))))
		}
	}
	const half = (1 - faceIn) / 2
	var x, y, z float64
	glow := v.glow
	for b := range min(v.bands, colour.Bands) {
		s := mix.S[b] * mm
		g, h, cone := in.g[b], in.h[b], in.cone[b]
		sg := s * g
		den := 1 + mix.K[b]*mm*g + sg
		denP, denM, beam := den-faceIn*(sg+h), den-faceIn*(sg-h), h-cone*den
		all := denP * denM
		p, m := (sg+beam)*denM, (sg-beam)*denP
		q := faceK1 * cone
		c := (1 - faceK1) * (1 + q*q*(1+q*q))
		u, w := c*(1+q)*p, c*(1-q)*m
		through, body := (1-faceK1)*cone*c*all+half*(u-w), half*(u+w)
		light := through / all
		if !v.against {
			q = faceKD * cone
			qq := q * q
			c = (1 - faceKD) * (1 + qq*(1+qq*(1+qq)))
			behind := half*c*(p+m+q*(p-m)) + (faceKD+(1-faceKD)*cone*c*q)*all
			ground := v.ground[b]
			open := all - ground*behind
			light = ((body+glow*through)*open + through*through*ground) / (all * open)
		}
		x += v.w[0][b] * light
		y += v.w[1][b] * light
		z += v.w[2][b] * light
	}
	return colour.XYZ{X: x, Y: y, Z: z}
}

// Gradient is how a Lab colour changes with one more unit of a material.
type Gradient [3]float64

// Slope gives the colour, and into out how it changes by each of the parts; into byMirror, how by the strength of each mirror.
func (v *View) Slope(m *Coefficients, parts []*Coefficients, out []Gradient, mirrors []Mirror, byMirror []Gradient) colour.Lab {
	var dk, ds colour.Spectrum // of a band's light, by K and S
	t := v.evenSlope(m, &dk, &ds)
	var s shine
	bright := len(mirrors) > 0 && !v.against
	if bright {
		v.shine(m, mirrors, &s, byMirror)
		t.X, t.Y, t.Z = t.X+s.xyz.X, t.Y+s.xyz.Y, t.Z+s.xyz.Z
	}
	x, y, z := cubeRoot(t.X), cubeRoot(t.Y), cubeRoot(t.Z)
	byX, byY, byZ := rootSlope(x), rootSlope(y), rootSlope(z)
	toLab := func(d colour.XYZ) Gradient {
		dx, dy, dz := d.X*byX, d.Y*byY, d.Z*byZ
		return Gradient{116 * dy, 500 * (dx - dy), 200 * (dy - dz)}
	}
	for j, p := range parts {
		d := v.weigh(p, &dk, &ds)
		if bright {
			f := s.closed(v.weigh(p, &s.fade, &s.fade))
			d.X, d.Y, d.Z = d.X+f.X, d.Y+f.Y, d.Z+f.Z
		}
		out[j] = toLab(d)
	}
	for j := range mirrors {
		if !bright {
			byMirror[j] = Gradient{}
			continue
		}
		by := &byMirror[j]
		*by = toLab(s.closed(colour.XYZ{X: by[0], Y: by[1], Z: by[2]}))
	}
	return colour.Lab{L: 116*y - 16, A: 500 * (x - y), B: 200 * (y - z)}
}

// weigh is what a part does to the light if a band's light changes so by K and S.
func (v *View) weigh(p *Coefficients, dk, ds *colour.Spectrum) colour.XYZ {
	if byFour {
		var t [3]float64
		weighFour(&p.K[0], &p.S[0], &dk[0], &ds[0], &v.w[0][0], v.bands/4, &t[0])
		return colour.XYZ{X: t[0], Y: t[1], Z: t[2]}
	}
	var t colour.XYZ
	for b := range min(v.bands, colour.Bands) {
		d := dk[b]*p.K[b] + ds[b]*p.S[b]
		t.X += v.w[0][b] * d
		t.Y += v.w[1][b] * d
		t.Z += v.w[2][b] * d
	}
	return t
}

// evenSlope is the light of the even piece, and how a band's changes by K and S.
func (v *View) evenSlope(m *Coefficients, dk, ds *colour.Spectrum) colour.XYZ {
	if byFour {
		var t [3]float64
		if v.against {
			slopeAgainst(&m.K[0], &m.S[0], &v.ground[0], &v.w[0][0], v.mm, v.glow, v.bands/4, &t[0], &dk[0], &ds[0])
		} else {
			slopeOver(&m.K[0], &m.S[0], &v.ground[0], &v.w[0][0], v.mm, v.glow, v.bands/4, &t[0], &dk[0], &ds[0])
		}
		return colour.XYZ{X: t[0], Y: t[1], Z: t[2]}
	}
	return v.evenSlopeByOne(m, dk, ds)
}

func (v *View) evenSlopeByOne(m *Coefficients, dk, ds *colour.Spectrum) colour.XYZ {
	var x, y, z float64
	mm := v.mm
	for b := range min(v.bands, colour.Bands) {
		a, s := m.K[b]*mm, m.S[b]*mm
		g, h, dg := slab(a * (a + 2*s))
		inv := 1 / (1 + (a+s)*g)
		r, t, cone := s*g*inv, h*inv, expMinus(a+2*s)
		light, byR, byT, byCone := v.bandSlope(b, r, t, cone)
		za, zs := 2*(a+s), 2*a
		da, dS := g+(a+s)*dg*za, g+(a+s)*dg*zs // of the denominator
		dh := -g * h / 2
		dk[b] = mm * (byR*(s*dg*za-r*da)*inv + byT*(dh*za-t*da)*inv - byCone*cone)
		ds[b] = mm * (byR*(g+s*dg*zs-r*dS)*inv + byT*(dh*zs-t*dS)*inv - 2*byCone*cone)
		x += v.w[0][b] * light
		y += v.w[1][b] * light
		z += v.w[2][b] * light
	}
	return colour.XYZ{X: x, Y: y, Z: z}
}

// CIELAB's cube root, and the line below it.
const labEpsilon, labKappa = 216.0 / 24389, 24389.0 / 27

func cubeRoot(t float64) float64 {
	if t <= labEpsilon {
		return (labKappa*t + 16) / 116
	}
	// A third of the exponent gives a guess within 4 %, which two of Halley's steps bring to 1e-14, in half of the time of math.Cbrt.
	const bias = 0x2A9F7893782DA1CE
	y := math.Float64frombits(math.Float64bits(t)/3 + bias)
	for range 2 {
		y3 := y * y * y
		y *= (y3 + 2*t) / (2*y3 + t)
	}
	return y
}

// rootSlope is how the root changes with t.
func rootSlope(root float64) float64 {
	if least := 24.0 / 116; root <= least { // of labEpsilon, 6/29
		return labKappa / 116
	}
	return 1 / (3 * root * root)
}

// bandSlope is the light of one band, and how it changes by r, t and cone.
func (v *View) bandSlope(b int, r, t, cone float64) (light, byR, byT, byCone float64) {
	sum, diff := r+t, r-t
	ps, ms := 1/(1-faceIn*sum), 1/(1-faceIn*diff)
	p, m := (sum-cone)*ps, (diff+cone)*ms
	pBySum, mByDiff := ps*(1+faceIn*p), ms*(1+faceIn*m)
	// A face: its two factors and their derivatives by cone.
	face := func(k float64) (c, dc, plus, minus, dPlus, dMinus float64) {
		q := k * cone
		qq := q * q
		c = (1 - k) * (1 + qq*(1+qq*(1+qq)))
		dc = (1 - k) * 2 * q * k * (1 + qq*(2+qq*3))
		return c, dc, c * (1 + q), c * (1 - q), dc*(1+q) + c*k, dc*(1-q) - c*k
	}
	c, dc, plus, minus, dPlus, dMinus := face(faceK1)
	half := (1 - faceIn) / 2
	u, w := plus*p, minus*m
	through := (1-faceK1)*cone*c + half*(u-w)
	// p falls by ps with cone, m rises by ms.
	tSum, tDiff := half*plus*pBySum, -half*minus*mByDiff
	tCone := (1-faceK1)*(c+cone*dc) + half*(dPlus*p-plus*ps-dMinus*m-minus*ms)
	if v.against {
		return through, tSum + tDiff, tSum - tDiff, tCone
	}
	body := half * (u + w)
	bSum, bDiff := half*plus*pBySum, half*minus*mByDiff
	bCone := half * (dPlus*p - plus*ps + dMinus*m + minus*ms)
	c, dc, plus, minus, dPlus, dMinus = face(faceKD)
	q := faceKD * cone
	behind := half*(plus*p+minus*m) + faceKD + (1-faceKD)*cone*c*q
	nSum, nDiff := half*plus*pBySum, half*minus*mByDiff
	nCone := half*(dPlus*p-plus*ps+dMinus*m+minus*ms) + (1-faceKD)*(2*c*q+cone*dc*q)
	ground := v.ground[b]
	open := 1 / (1 - ground*behind)
	back := through * ground * open
	light = body + v.glow*through + through*back
	onT, onBehind := v.glow+2*back, back*back
	lSum, lDiff := bSum+onT*tSum+onBehind*nSum, bDiff+onT*tDiff+onBehind*nDiff
	return light, lSum + lDiff, lSum - lDiff, bCone + onT*tCone + onBehind*nCone
}
