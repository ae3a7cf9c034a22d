// Package maker is a stand-in for a maker at the bench whose bottles are not what their labels say: it pours what it is
// told, and reads the baits as well as a phone or an instrument would. How soon learning brings such a maker to a
// colour is measured with it.
//
// Read rack.go (a shelf), maker.go (what the bottles really are), trial.go (one target after another).
package maker

import (
	"fmt"
	"math"
	"math/rand/v2"
	"slices"

	"cloudburst/core/cup"
	"cloudburst/core/material"
)

// Base is the plastisol of a rack.
const Base = "base"

// Rack is a made-up shelf of n colourants and powders that do not glow: the families, then bottles of their kind, each
// with bands, strength and haze of its own. One plastisol besides.
func Rack(seed uint64, n int) (cup.Shelf, []string) {
	rng := rand.New(rand.NewPCG(seed, 48))
	about := func(v, by float64) float64 { return v * math.Exp(by*rng.NormFloat64()) }
	shelf := cup.Shelf{}
	var families []material.Family
	for _, f := range material.Families() {
		if m := f.New("x", "x"); (m.Colourant != nil && m.Colourant.Glows == nil) || m.Powder != nil {
			families = append(families, f)
		}
	}
	var uids []string
	for i := range n {
		f := families[i%len(families)]
		uid := fmt.Sprintf("%s-%d", f.Key, i/len(families))
		m := f.New(uid, uid)
		if c := m.Colourant; c != nil {
			c.Optics.FlatPerMM = about(c.Optics.FlatPerMM, 0.3)
			c.Optics.ScatterPerMM = about(c.Optics.ScatterPerMM, 0.3)
			c.Optics.Absorbs = slices.Clone(c.Optics.Absorbs)
			for j := range c.Optics.Absorbs {
				a := &c.Optics.Absorbs[j]
				a.CentreNM += 12 * rng.NormFloat64()
				a.WidthNM, a.HeightPerMM = about(a.WidthNM, 0.12), about(a.HeightPerMM, 0.25)
			}
		}
		if p := m.Powder; p != nil {
			p.Optics.Film.ThicknessNM = about(p.Optics.Film.ThicknessNM, 0.06)
			p.Optics.StrengthPerMM = about(p.Optics.StrengthPerMM, 0.2)
		}
		shelf[uid] = m
		uids = append(uids, uid)
	}
	base, _ := material.FindFamily("medium-plastisol")
	shelf[Base] = base.New(Base, "Plain base")
	return shelf, uids
}
