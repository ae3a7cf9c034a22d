// Package match asks what to drip to get a colour: from readings to doses, from a cup that is not right to what it
// lacks, from words to the next addition.
//
// Read wish.go (what is asked), problem.go (the same in numbers), forward.go, tables.go and glint.go (light, fast, with
// its slope), solve.go, search.go and lattice.go (doses, sets of bottles, whole drops), rank.go and limits.go (what is
// said of them), then correct.go, words.go, flakes.go, layers.go.
//
// Units: ΔE00, doses in steps (a drop, a smallest spoon), K and S in 1/mm. The fast model gives the light of packages
// optics and mix to ΔE00 1e-6 where nothing fluoresces; those have the last word on what is shown.
//
// Source: docs/model.md, decision 9 (match).
package match
