package match

import (
	"slices"

	"cloudburst/core/cup"
	"cloudburst/core/material"
	"cloudburst/core/measure"
)

// Allow says what of the shelf may be used.
type Allow struct {
	Kinds      []material.Kind `json:"kinds,omitempty" maxItems:"2" enum:"colourant,powder" doc:"Both where none is named"`
	NoBleeding bool            `json:"noBleeding,omitempty" doc:"No dye that runs"`
	InStock    bool            `json:"inStock,omitempty" doc:"Only what is left, as far as that is counted"`
	Words      string          `json:"words,omitempty" maxLength:"80" doc:"Only what has all of these words in its name, family or note"`
	Not        []string        `json:"not,omitempty" maxItems:"200" doc:"uids that stay on the shelf"`
}

// Owned is a material with how much of it there is.
type Owned struct {
	Material *material.Material
	Stock    *material.Stock
}

// lets says whether a material may be used.
func (by *Allow) lets(o Owned) bool {
	m := o.Material
	return (m.Kind == material.KindColourant || m.Kind == material.KindPowder) &&
		(len(by.Kinds) == 0 || slices.Contains(by.Kinds, m.Kind)) &&
		!(by.NoBleeding && m.Runs()) && !(by.InStock && o.Stock.Gone()) &&
		!slices.Contains(by.Not, m.UID) && m.Named(by.Words)
}

// From lets a wish use what is allowed of a shelf, and says what it costs. What is in the cup already may be used where
// it is to be put right (inCup), else it stays as it is. A cup without plastisol gets the first of the shelf.
func (w *Wish) From(owned []Owned, by *Allow, inCup bool) error {
	prices := map[string]float64{}
	for _, o := range owned {
		uid := o.Material.UID
		if per := o.Stock.PerUnit(); per > 0 {
			prices[uid] = per
		}
		if o.Material.Plastisol != nil && w.Cup.Plastisol == "" {
			w.Cup.Plastisol = uid
		}
		held := slices.ContainsFunc(w.Cup.Doses, func(d cup.Dose) bool { return d.Material == uid })
		if by.lets(o) && (inCup || !held) {
			w.Allowed = append(w.Allowed, uid)
		}
	}
	w.PriceOf = func(uid string) float64 { return prices[uid] }
	if w.Cup.Plastisol == "" {
		return measure.Faulty("plastisol", "There is no plastisol on the shelf yet. Add one there first.")
	}
	return nil
}
