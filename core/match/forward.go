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
	mm         float64
	ground     colour.Spectrum
	glow       float64 // of the light that comes through, what a room adds to the grey ground
	against    bool
	wx, wy, wz colour.Spectrum // of the light, so that its white is 1
}

// NewView prepares a view.
func NewView(thicknessMM float64, ground optics.Ground, light colour.Light) *View {
	v := &View{mm: thicknessMM, ground: ground.Reflectance(), against: ground == optics.Against}
	if ground == optics.Grey {
		v.glow = optics.FromBehind
	}
	white := light.White()
	for b := range colour.Bands {
		var one colour.Spectrum
		one[b] = 1
		t := light.XYZ(&one)
		v.wx[b], v.wy[b], v.wz[b] = t.X/white.X, t.Y/white.Y, t.Z/white.Z
	}
	return v
}

// The plastic's two faces in air. Face k's q = k·cone is at most 0.1, so that 1/(1−q²) is four terms of its series.
const faceK1, faceKD, faceIn = 0.04, 0.092, 0.596

func init() {
	if (optics.Surface{Directional: faceK1, Diffuse: faceKD, Inside: faceIn}) != optics.InAir {
		panic("match: the faces of plastic in air are not those of package optics")
	}
}

// Lab is the colour of a mix in this view.
//
// It is optics.Surface's two faces about a slab that is alike from both sides. The light going each way inside then parts into a sum
// and a difference, p and m; with R and T over the slab's common denominator D both need one division together.
func (v *View) Lab(mix *Coefficients) colour.Lab {
	var x, y, z float64
	mm := v.mm
	for b := range colour.Bands {
		a, s := mix.K[b]*mm, mix.S[b]*mm
		zed := a * (a + 2*s)
		var g, h float64
		if i := int(math.Float64bits(zed)>>shift) - firstIndex; uint(i) < intervals {
			n := &slabTable[i]
			d := zed - n.z
			g = n.g[0] + d*(n.g[1]+d*(n.g[2]+d*n.g[3]))
			h = n.h[0] + d*(n.h[1]+d*(n.h[2]+d*n.h[3]))
		} else {
			g, h, _ = slabEdge(zed)
		}
		cone := 0.0
		if far := a + 2*s; far < expMost {
			i := int(far * expSteps)
			d := far - float64(i)*(1.0/expSteps)
			cone = expTable[i] * (1 - d*(1-d*(0.5-d*(1.0/6-d*(1.0/24)))))
		}
		den, sg := 1+(a+s)*g, s*g
		denP, denM := den-faceIn*(sg+h), den-faceIn*(sg-h)
		inv := 1 / (denP * denM)
		p, m := (sg+h-cone*den)*denM*inv, (sg-h+cone*den)*denP*inv
		q := faceK1 * cone
		qq := q * q
		c := (1 - faceK1) * (1 + qq*(1+qq*(1+qq)))
		u, w := c*(1+q)*p, c*(1-q)*m
		light := (1-faceK1)*cone*c + (1-faceIn)/2*(u-w)
		if !v.against {
			q = faceKD * cone
			qq = q * q
			c = (1 - faceKD) * (1 + qq*(1+qq*(1+qq)))
			behind := (1-faceIn)/2*c*(p+m+q*(p-m)) + faceKD + (1-faceKD)*cone*c*q
			ground := v.ground[b]
			light = (1-faceIn)/2*(u+w) + v.glow*light + light*light*ground/(1-ground*behind)
		}
		x += v.wx[b] * light
		y += v.wy[b] * light
		z += v.wz[b] * light
	}
	return colour.XYZ{X: x, Y: y, Z: z}.Lab(colour.XYZ{X: 1, Y: 1, Z: 1})
}

// Gradient is how a Lab colour changes with one more unit of a material.
type Gradient [3]float64

// Slope gives the colour, and into out how it changes by each of the parts.
func (v *View) Slope(m *Coefficients, parts []*Coefficients, out []Gradient) colour.Lab {
	var x, y, z float64
	var dk, ds colour.Spectrum // of a band's light, by K and S
	mm := v.mm
	for b := range colour.Bands {
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
		x += v.wx[b] * light
		y += v.wy[b] * light
		z += v.wz[b] * light
	}
	fx, fy, fz := labSlope(x), labSlope(y), labSlope(z)
	for j, p := range parts {
		var tx, ty, tz float64
		for b := range colour.Bands {
			d := dk[b]*p.K[b] + ds[b]*p.S[b]
			tx += v.wx[b] * d
			ty += v.wy[b] * d
			tz += v.wz[b] * d
		}
		tx, ty, tz = tx*fx, ty*fy, tz*fz
		out[j] = Gradient{116 * ty, 500 * (tx - ty), 200 * (ty - tz)}
	}
	return colour.XYZ{X: x, Y: y, Z: z}.Lab(colour.XYZ{X: 1, Y: 1, Z: 1})
}

// labSlope is the derivative of CIELAB's cube root and of the line below it.
func labSlope(t float64) float64 {
	const epsilon, kappa = 216.0 / 24389, 24389.0 / 27
	if t <= epsilon {
		return kappa / 116
	}
	c := math.Cbrt(t)
	return 1 / (3 * c * c)
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
