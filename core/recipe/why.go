package recipe

import (
	"cmp"
	"fmt"
	"slices"

	"cloudburst/core/cup"
	"cloudburst/core/measure"
	"cloudburst/core/mix"
)

// Cause is what may have made a defect, and what to change.
type Cause struct {
	Says  string  `json:"says"`
	Do    string  `json:"do"`
	Share float64 `json:"share" doc:"How likely among those listed, as far as what is known of the batch tells; the shares are ours"`
}

// Facts are what is known of how a batch was poured; 0 for what is not.
type Facts struct {
	PourC   float64 // its last heat
	WorkC   float64 // at which its plastisol is worked
	Heats   int
	ThinMM  float64 // thinnest section of the mold
	ShotML  float64 // one fill of it
	Shots   float64 // fills that were poured
	FlakeC  float64 // the lowest limit among what is in it
	Limited string  // whose limit that is
	Solids  float64 // share of its volume that is powder, salt or flake
	Runs    bool    // a dye in it runs
	Rested  float64 // hours
}

// FactsOf reads them from a batch, what is in it and its mold's figures.
func FactsOf(b *Batch, c *cup.Cup, m *mix.Mix, shelf cup.Shelf, thinMM, shotML float64) Facts {
	f := Facts{WorkC: c.WorkingC(), Heats: len(b.Outcome.HeatsC), ThinMM: thinMM, ShotML: shotML, Rested: b.RestedHours}
	if f.Heats > 0 {
		f.PourC = b.Outcome.HeatsC[f.Heats-1]
	}
	if shotML > 0 {
		f.Shots = b.Outcome.PouredML / shotML
	}
	solid := 0.0
	for _, d := range c.Doses {
		stuff := shelf[d.Material]
		ml, _, err := stuff.Take(d.Amount)
		if err == nil && stuff.Form() == measure.Solid {
			solid += ml
		}
		if h := stuff.Heat; h != nil && h.MaxC > 0 && (f.FlakeC == 0 || h.MaxC < f.FlakeC) {
			f.FlakeC, f.Limited = h.MaxC, stuff.Name
		}
		f.Runs = f.Runs || stuff.Runs()
	}
	if m.FinishedML > 0 {
		f.Solids = solid / m.FinishedML
	}
	return f
}

// clue is a cause with how often it is the one where nothing is known, and how many times as likely what is known makes
// it.
type clue struct {
	says, do string
	usual    float64
	times    float64
}

// when weighs a clue: more where the fact speaks for it, less where it speaks against it, as it is where nothing is
// known.
func when(known, speaksFor bool, more float64) float64 {
	switch {
	case !known:
		return 1
	case speaksFor:
		return more
	}
	return 1 / more
}

// Where things go wrong on a bench. Ours.
const (
	coldBy     = 8.0  // °C below working heat that is felt
	thinMM     = 1.5  // a section that stiffens before it is filled
	manyHeats  = 3    // from which plastic shows its heats
	manySolids = 0.05 // share of solids from which they thicken it
	manyShots  = 4.0  // fills from one heat
)

// Why lists what may have made a defect, the likeliest for this batch first, each with what to change.
func Why(d Defect, f *Facts) []Cause { // long, since it is a table
	cold := when(f.PourC > 0, f.PourC < f.WorkC-coldBy, 3)
	hot := when(f.PourC > 0, f.PourC > f.WorkC+coldBy, 3)
	thin := when(f.ThinMM > 0, f.ThinMM <= thinMM, 2)
	thick := when(true, f.Solids > manySolids, 2)
	far := when(f.Shots > 0, f.Shots > manyShots, 2.5)
	tired := when(f.Heats > 0, f.Heats >= manyHeats, 2.5)
	over := when(f.FlakeC > 0 && f.PourC > 0, f.PourC > f.FlakeC, 5)
	work := measure.Degrees(f.WorkC)
	limit := "its limit"
	if f.FlakeC > 0 {
		limit = fmt.Sprintf("the limit of %s, %s", f.Limited, measure.Degrees(f.FlakeC))
	}
	clues := map[Defect][]clue{
		ShortFill: {
			{
				"The plastic was too cold for the thin parts.",
				"Shoot at " + work + ", and warm the mold or the block first.", 0.4,
				cold * thin,
			},
			{
				"The injector was loaded for too many fills and cooled on the way.",
				"Load for two or three fills, then go back to the cup.", 0.2, far,
			},
			{
				"The air could not get out of the ends.",
				"Shoot slower, hold the pressure, and look whether the vents are open.",
				0.2, 1,
			},
			{
				"What is in it thickened it.", "Take less powder, salt or flake, or thin it with clear plastisol.", 0.2,
				thick,
			},
		},
		Dents: {
			{
				"It shrank while it cooled, and nothing was there to follow.",
				"Top off the sprue until it stands, and hold the pressure longer.", 0.5, hot,
			},
			{
				"It was pulled out too early.", "Leave it in the mold until the thickest part is firm.", 0.3,
				when(f.ThinMM > 0, f.ThinMM > 2*thinMM, 1.5),
			},
			{"The mold was hotter at one end.", "Let it cool flat, or pour the cavities in turn.", 0.2, far},
		},
		Bubbles: {
			{
				"Air was stirred in again after the degassing.",
				"Stir slowly, along the wall, and let it stand a minute before the shot.", 0.4, 1,
			},
			{
				"Salt, powder or flake brought air or damp with it.", "Dry it, stir it in early, and degas after it.",
				0.3, thick,
			},
			{
				"It was not hot enough for the air to rise.",
				"Take it to " + work + " and let it stand before the shot.", 0.2,
				cold,
			},
			{"The injector drew air.", "Keep the tip under the surface, and push the first drops back.", 0.1, 1},
		},
		Flash: {
			{"The halves were not shut.", "Clean the faces and clamp evenly, the middle first.", 0.6, 1},
			{"It was shot too hard or too hot.", "Shoot at " + work + " and slower.", 0.4, hot},
		},
		SwappedLayers: {
			{
				"The heavier colour was shot last, or from the wrong side.",
				"Look which way the cavities lie, and mark the cups A and B.", 0.8, 1,
			},
			{"The mold was turned over between the shots.", "Mark the side that lies up.", 0.2, 1},
		},
		BlendedLayers: {
			{
				"The second colour came before the first had a skin.",
				"Wait for the skin: the thin end shows it first.", 0.4, hot,
			},
			{
				"The two streams mixed in the block.", "Warm the block, push both evenly, and stop when it runs back.",
				0.3, 1,
			},
			{
				"A dye in it runs from one layer to the next.",
				"Use one that does not run at the boundary, or fish it before it does.", 0.2,
				when(f.Rested > 0, f.Runs && f.Rested > 24, 3) * when(true, f.Runs, 3),
			},
			{"A dot or stripe was laid too thick.", "Lay less of it, and let it set.", 0.1, 1},
		},
		Faded: {
			{"It was heated too often.", "Cook smaller cups; keep remelts for dark colours.", 0.4, tired},
			{
				"It was too hot for the dye.", "Stay below " + limit + ", and add colour once it has cleared.", 0.4,
				max(over, hot),
			},
			{
				"A dye that light bleaches lay in the sun.", "Keep baits dark until they are fished.", 0.2,
				when(f.Rested > 0, f.Rested > 24*30, 2),
			},
		},
		Curled: {
			{"It was hotter than the flake takes.", "Put the flake in last, below " + limit + ".", 0.6, over},
			{
				"It stayed hot for long, or was heated again with the flake in.",
				"Flake in the last minute; do not reheat what has flake in it.", 0.3, tired,
			},
			{
				"The flake does not take this plastisol's plasticiser.", "Try a spoon of it in a little cup first.",
				0.1, 1,
			},
		},
	}[d]
	all := 0.0
	for _, c := range clues {
		all += c.usual * c.times
	}
	out := []Cause{}
	for _, c := range clues {
		out = append(out, Cause{c.says, c.do, c.usual * c.times / all})
	}
	slices.SortStableFunc(out, func(a, b Cause) int { return cmp.Compare(b.Share, a.Share) })
	return out
}
