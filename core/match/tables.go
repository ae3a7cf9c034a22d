package match

import "math"

// The slab's two functions of z = u², u = αx: g = tanh(u)/u and h = sech(u), as cubics between nodes that lie by
// exponent and the upper bits of the mantissa, so that a node is found by a shift. Below the first node a series takes
// over, above the last the slab is as good as endless.
const (
	mantissaBits = 4
	firstExp     = -8 // z = 2⁻⁸
	lastExp      = 8
	intervals    = (lastExp - firstExp) << mantissaBits
	shift        = 52 - mantissaBits
	firstIndex   = (1023 + firstExp) << mantissaBits
)

// node is one interval: where it begins, and g and h as c0 + c1·d + c2·d² + c3·d³ of the way into it.
type node struct {
	z    float64
	g, h [4]float64
}

var slabTable = func() *[intervals]node {
	var t [intervals]node
	at := func(i int) float64 { return math.Float64frombits(uint64(firstIndex+i) << shift) }
	cubic := func(w, f0, d0, f1, d1 float64) [4]float64 {
		rise := (f1 - f0) / w
		return [4]float64{f0, d0, (3*rise - 2*d0 - d1) / w, (d0 + d1 - 2*rise) / (w * w)}
	}
	for i := range t {
		z0, z1 := at(i), at(i+1)
		g0, h0, dg0, dh0 := slabExact(z0)
		g1, h1, dg1, dh1 := slabExact(z1)
		t[i] = node{z0, cubic(z1-z0, g0, dg0, g1, dg1), cubic(z1-z0, h0, dh0, h1, dh1)}
	}
	return &t
}()

// slabExact gives g, h and their derivatives by z.
func slabExact(z float64) (g, h, dg, dh float64) {
	u := math.Sqrt(z)
	if u < 0.2 {
		g, dg = seriesG(z)
	} else {
		g = math.Tanh(u) / u
	}
	h = 1 / math.Cosh(u)
	if u >= 0.2 {
		dg = (h*h - g) / (2 * z)
	}
	return g, h, dg, -h * g / 2
}

// seriesG is tanh(u)/u about 0, and its derivative by z, in which the closed form's digits cancel.
func seriesG(z float64) (g, dg float64) {
	const a, b, c, d, e = -1.0 / 3, 2.0 / 15, -17.0 / 315, 62.0 / 2835, -1382.0 / 155925
	return 1 + z*(a+z*(b+z*(c+z*(d+z*e)))), a + z*(2*b+z*(3*c+z*(4*d+z*5*e)))
}

// slab gives g, h and g′ at z ≥ 0; h′ is −gh/2.
func slab(z float64) (g, h, dg float64) {
	i := int(math.Float64bits(z)>>shift) - firstIndex
	if uint(i) < intervals {
		n := &slabTable[i]
		d := z - n.z
		g = n.g[0] + d*(n.g[1]+d*(n.g[2]+d*n.g[3]))
		h = n.h[0] + d*(n.h[1]+d*(n.h[2]+d*n.h[3]))
		return g, h, n.g[1] + d*(2*n.g[2]+d*3*n.g[3])
	}
	return slabEdge(z)
}

func slabEdge(z float64) (g, h, dg float64) {
	if z < 1 {
		g, dg = seriesG(z)
		return g, 1 - z*(1.0/2-z*(5.0/24-z*(61.0/720))), dg
	}
	g = 1 / math.Sqrt(z)
	return g, 2 * math.Exp(-1/g), -g / (2 * z)
}

// e^(−y) from a table of the middles of steps, and the rest of its series.
const (
	expSteps = 32 // a unit of y
	expMost  = 20
)

var expTable = func() *[expMost * expSteps]float64 {
	var t [expMost * expSteps]float64
	for i := range t {
		t[i] = math.Exp(-(float64(i) + 0.5) / expSteps)
	}
	return &t
}()

func expMinus(y float64) float64 {
	i := int(y * expSteps)
	if uint(i) >= uint(len(expTable)) {
		return 0
	}
	d := (float64(i)+0.5)*(1.0/expSteps) - y
	return expTable[i] * (1 + d*(1+d*(0.5+d*(1.0/6))))
}
