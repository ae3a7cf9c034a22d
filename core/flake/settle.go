package flake

import "math"

// What pieces of a kind measure, as the logarithm of a proportion to its size: most that are whole have its size to a
// few hundredths; a few are smaller, being half hidden, down to cutDown; a few larger, being two that touch, up to
// heaped. Of those that are not whole, that is usual.
const (
	wholeSpread, brokenSpread = 0.07, 0.1
	cutDown, heaped           = 1.2, 0.7
	wholeAsIs, brokenAsIs     = 0.7, 0.15 // shares of them that have the kind's size
	wholeCut, brokenCut       = 0.24, 0.4 // that are smaller
	wholeHeaped, brokenHeaped = 0.06, 0.3 // that are larger
)

// How far two pieces of one kind may differ from the base in unlike ways: in hue, radians, and that noise adds to it;
// in strength, as a logarithm.
const likeHue, hueNoise, likeStrength = 0.06, 0.03, 0.3

// byChance is how many of a kind's pieces, as a share, have another's size by chance.
const byChance = 0.25

// sure is a piece whose size leaves no doubt of its kind.
type sure struct {
	kind, from int // of its size, and where its hue had put it
	hue        [3]float64
	lnStrong   float64
}

// settle gives each piece to the kind that it is likeliest of, by its size and by how it differs from the base, beside
// those pieces whose size leaves no doubt: a deep piece takes on its base's hue, but keeps its size; two that touch are
// as long as a larger one, but keep their hue.
func (c *area) settle(kinds []kind) {
	if len(kinds) < 2 {
		return
	}
	known := c.known(kinds)
	const most = 600 // more don't make it surer
	if n := (len(known) + most - 1) / most; n > 1 {
		for i := range len(known) / n {
			known[i] = known[i*n]
		}
		known = known[:len(known)/n]
	}
	of := make([][]int, len(kinds))
	near := make([][]float64, len(kinds)) // by size, and where their hue had put them
	for k := range near {
		near[k] = make([]float64, len(kinds))
	}
	for i := range kinds {
		for _, m := range kinds[i].members {
			b := &c.parts[m]
			c.nearTo(b, known, near)
			best, likeliest := i, 0.0
			for k := range kinds {
				const none = 1e-3
				like := none
				for from, n := range near[k] {
					if from != k {
						n = max(0, n-byChance*near[from][from])
					}
					like += n
				}
				if p := like * b.sized(kinds[k].sizeMM); p > likeliest {
					best, likeliest = k, p
				}
			}
			of[best] = append(of[best], m)
		}
	}
	for i := range kinds {
		kinds[i].members = of[i]
	}
}

// known are the whole pieces that have a kind's size.
func (c *area) known(kinds []kind) (out []sure) {
	const has, hasNot = 0.1, 0.2
	for i := range kinds {
		for _, m := range kinds[i].members {
			b := &c.parts[m]
			if !b.intact() {
				continue
			}
			off := func(k int) float64 { return math.Abs(math.Log(b.sizeMM / kinds[k].sizeMM)) }
			of := i
			if off(i) > hasNot {
				for k := range kinds {
					if off(k) < off(of) {
						of = k
					}
				}
			}
			if off(of) < has {
				hue, strong := c.differs(b)
				out = append(out, sure{of, i, hue, math.Log(strong)})
			}
		}
	}
	return out
}

// nearTo counts the known pieces that differ from the base as a blob does, each the less the less alike it is.
func (c *area) nearTo(b *blob, known []sure, near [][]float64) {
	for k := range near {
		clear(near[k])
	}
	hue, strong := c.differs(b)
	wide := likeHue*likeHue + hueNoise*hueNoise/(strong*strong)
	lnStrong := math.Log(strong)
	for i := range known {
		s := &known[i]
		l := (lnStrong - s.lnStrong) / likeStrength
		near[s.kind][s.from] += math.Exp((dot3(hue, s.hue)-1)/wide - l*l/2)
	}
}

// differs is the way in which a blob differs from the base, and how much, each channel as far as its noise lets it
// tell.
func (c *area) differs(b *blob) (hue [3]float64, strong float64) {
	for ch := range 3 {
		hue[ch] = b.mean[ch] * c.weight[ch]
	}
	return unit(hue), max(1e-9, math.Sqrt(dot3(hue, hue)))
}

// sized is how likely a piece of a kind is to be of a blob's size.
func (b *blob) sized(sizeMM float64) float64 {
	spread, asIs, cut, heap := brokenSpread, brokenAsIs, brokenCut, brokenHeaped
	if b.intact() {
		spread, asIs, cut, heap = wholeSpread, wholeAsIs, wholeCut, wholeHeaped
	}
	r := math.Log(b.sizeMM / sizeMM)
	const hardly = 1e-6
	p := hardly + asIs*math.Exp(-r*r/2/spread/spread)/spread/math.Sqrt(2*math.Pi)
	switch {
	case r < 0 && r > -cutDown:
		p += cut / cutDown
	case r > 0 && r < heaped:
		p += heap / heaped
	}
	return p
}
