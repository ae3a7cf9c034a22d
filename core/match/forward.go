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

// The plastic's two faces in air. Face k's q = k·cone is at most 0.1, so that 1/(1−q²) is a few terms of its
// series.
const faceK1, faceKD, faceIn = 0.04, 0.092, 0.596

func init() {
	if (optics.Surface{Directional: faceK1, Diffuse: faceKD, Inside: faceIn}) != optics.InAir {
		panic("match: the faces of plastic in air are not those of package optics")
	}
}

// inside is what the slab does, band by band: its two functions of z, and the share of a beam that comes through
// unscattered.
type inside struct{ g, h, cone [colour.Bands]float64 }

// Lab is the colour of a mix in this view.
//
// It is optics.Surface's two faces about a slab that is alike from both sides. The light going each way inside then
// parts into a sum and a difference, p and m. R and T have the slab's own denominator, p and m one each, a ground one
// more: all is kept over their product, so that a band is divided once. Two loops, so that the processor has several
// bands under way in each.
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

// Slope gives the colour, and into out how it changes by each of the parts; into byMirror, how by the strength of each
// mirror.
func (v *View) Slope(
	m *Coefficients, parts []*Coefficients, out []Gradient, mirrors []Mirror, byMirror []Gradient,
) colour.Lab {
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

// weigh is what a part does to the light if a band's light changes so by K and S. By twos, so that no sum waits for the
// one before.
func (v *View) weigh(p *Coefficients, dk, ds *colour.Spectrum) colour.XYZ {
	var x, y, z, x2, y2, z2 float64
	wx, wy, wz := &v.w[0], &v.w[1], &v.w[2]
	for b := 0; b < min(v.bands, colour.Bands)-1; b += 2 {
		d, e := dk[b]*p.K[b]+ds[b]*p.S[b], dk[b+1]*p.K[b+1]+ds[b+1]*p.S[b+1]
		x, x2 = x+wx[b]*d, x2+wx[b+1]*e
		y, y2 = y+wy[b]*d, y2+wy[b+1]*e
		z, z2 = z+wz[b]*d, z2+wz[b+1]*e
	}
	return colour.XYZ{X: x + x2, Y: y + y2, Z: z + z2}
}

// evenSlope is the light of the even piece, and how a band's changes by K and S: the chain rule from the light
// backwards, through the ground, the faces and the slab, over two divisions a band.
func (v *View) evenSlope(m *Coefficients, dk, ds *colour.Spectrum) colour.XYZ {
	const half = (1 - faceIn) / 2
	var x, y, z float64
	mm, glow := v.mm, v.glow
	for b := range min(v.bands, colour.Bands) {
		a, s := m.K[b]*mm, m.S[b]*mm
		far, sum := a+2*s, a+s
		g, h, dg := slab(a * far)
		cone := expMinus(far)
		den, sg := 1+sum*g, s*g
		denP, denM, beam := den-faceIn*(sg+h), den-faceIn*(sg-h), cone*den
		both := 1 / (denP * denM)
		ps, ms := denM*both, denP*both
		// the sum and the difference of what goes each way, as it meets the faces
		p, w := (sg+h-beam)*ps, (sg-h+beam)*ms

		q := faceK1 * cone
		qq := q * q
		c, dc := (1-faceK1)*(1+qq*(1+qq)), (1-faceK1)*faceK1*q*(2+4*qq)
		plus, minus := half*c*(1+q), half*c*(1-q)
		byPlus, byMinus := half*(dc*(1+q)+c*faceK1), half*(dc*(1-q)-c*faceK1) // by cone
		through := (1-faceK1)*cone*c + plus*p - minus*w
		byThrough := (1-faceK1)*(c+cone*dc) + byPlus*p - byMinus*w
		light, byP, byW, byCone := through, plus, -minus, byThrough
		if !v.against {
			q = faceKD * cone
			qq = q * q
			c, dc = (1-faceKD)*(1+qq*(1+qq*(1+qq))), (1-faceKD)*faceKD*q*(2+qq*(4+qq*6))
			plusD, minusD := half*c*(1+q), half*c*(1-q)
			behind := plusD*p + minusD*w + faceKD + (1-faceKD)*cone*c*q
			byBehind := half*((dc*(1+q)+c*faceKD)*p+(dc*(1-q)-c*faceKD)*w) + (1-faceKD)*q*(2*c+cone*dc)
			ground := v.ground[b]
			back := through * ground / (1 - ground*behind)
			light = plus*p + minus*w + through*(glow+back)
			onThrough, onBehind := glow+2*back, back*back
			byP = plus*(1+onThrough) + onBehind*plusD
			byW = minus*(1-onThrough) + onBehind*minusD
			byCone = byPlus*p + byMinus*w + onThrough*byThrough + onBehind*byBehind
		}
		byP, byW = byP*ps, byW*ms
		onP, onW := byP*(1+faceIn*p), byW*(1+faceIn*w) // of what the slab throws back, and lets through, to each side
		bySG, byH := onP+onW, onP-onW
		byDen := byW*(cone-w) - byP*(cone+p)
		byCone = (byCone - (byP-byW)*den) * cone
		byZ := 2 * (dg*(bySG*s+byDen*sum) - g*h*byH/2)
		dk[b] = mm * (byZ*sum + byDen*g - byCone)
		ds[b] = mm * (byZ*a + (bySG+byDen)*g - 2*byCone)
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
	return math.Cbrt(t)
}

// rootSlope is how the root changes with t.
func rootSlope(root float64) float64 {
	if least := 24.0 / 116; root <= least { // of labEpsilon, 6/29
		return labKappa / 116
	}
	return 1 / (3 * root * root)
}
