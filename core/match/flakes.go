package match

import (
	"cmp"
	"context"
	"fmt"
	"maps"
	"math"
	"slices"

	"cloudburst/core/colour"
	"cloudburst/core/cup"
	"cloudburst/core/flake"
	"cloudburst/core/material"
	"cloudburst/core/measure"
	"cloudburst/core/mix"
	"cloudburst/core/optics"
)

// FlakeChoice is an owned flake for one kind that was counted.
type FlakeChoice struct {
	Material   string         `json:"material"`
	Name       string         `json:"name"`
	Substitute bool           `json:"substitute" doc:"It is not what was seen, but the nearest that is owned"`
	Why        string         `json:"why,omitempty" doc:"In what it differs"`
	DeltaE00   float64        `json:"deltaE00" doc:"Between the pieces as they were seen and as these would be, brightness counting half"`
	SizeTimes  float64        `json:"sizeTimes" doc:"Its size as a multiple of what was counted"`
	Dose       measure.Amount `json:"dose" doc:"For the cup"`
	Take       string         `json:"take" doc:"The same with the spoons that are owned"`
}

// KindMatched is one kind of flake with what could stand for it, best first.
type KindMatched struct {
	SizeIN  float64       `json:"sizeIN"`
	Swatch  mix.Swatch    `json:"swatch"`
	PerCM2  float64       `json:"perCM2"`
	Choices []FlakeChoice `json:"choices" nullable:"false"`
	Says    string        `json:"says"`
}

// How far a flake may differ from what was counted before it is called a substitute.
const (
	sizeOff        = 0.2  // as the logarithm of the ratio: the trade's sizes lie further apart
	colourOff      = 12.0 // ΔE00, brightness counting half
	flakeChoices   = 3
	sizeCounts     = 25.0 // ΔE00 that a size twice or half as large is worth
	otherFinish    = 8.0  // ΔE00 that another finish is worth, where one was said
	flakeRounds    = 2    // of base and flake, each worked out for the other
	mostFlakeKinds = 8
)

// ChooseFlake finds, in a base, which of the owned flakes gives the counted look at what spoons. finish is by kind, ""
// where nobody said.
func ChooseFlake(
	base *mix.Mix, seen []mix.KindSeen, finish []material.Finish, shelf cup.Shelf, kit measure.Kit, at mix.Condition,
) ([]KindMatched, error) {
	if len(seen) == 0 {
		return nil, measure.Faulty("flake", "no flake was counted yet: count it on the photo first")
	}
	if len(seen) > mostFlakeKinds {
		return nil, measure.Faulty(
			"flake", "up to %d kinds of flake are chosen at once; these are %d", mostFlakeKinds, len(seen),
		)
	}
	var owned []material.Material
	for _, uid := range slices.Sorted(maps.Keys(shelf)) {
		if m := shelf[uid]; m.Flake != nil {
			owned = append(owned, m)
		}
	}
	if len(owned) == 0 {
		return nil, measure.Faulty("allowed", "there is no flake on the shelf to choose from; add one there first")
	}
	body := base.Body()
	out := make([]KindMatched, len(seen))
	chosen := make([]mix.Counted, len(seen))
	lists := make([][]ratedFlake, len(seen))
	taken := map[string]bool{}
	for i, k := range seen {
		out[i] = KindMatched{SizeIN: k.SizeIN, Swatch: mix.NewSwatch(k.Lab), PerCM2: k.PerCM2, Choices: []FlakeChoice{}}
		var wanted material.Finish
		if len(finish) > i {
			wanted = finish[i]
		}
		for j := range owned {
			m := &owned[j]
			r := rateFlake(m, &k, wanted, pieceOff(body, m.Flake, at, &k))
			if taken[m.UID] {
				r.score += colourOff
			}
			lists[i] = append(lists[i], r)
		}
		slices.SortStableFunc(lists[i], func(a, b ratedFlake) int { return cmp.Compare(a.score, b.score) })
		taken[lists[i][0].Material] = true
		chosen[i] = mix.Counted{Flake: lists[i][0].m, PerCM2: k.PerCM2}
	}
	for i := range seen {
		for _, r := range lists[i][:min(flakeChoices, len(lists[i]))] {
			with := slices.Clone(chosen)
			// As much of the face for the eye: fewer of larger pieces, more of smaller ones.
			with[i] = mix.Counted{Flake: r.m, PerCM2: seen[i].PerCM2 / (r.SizeTimes * r.SizeTimes)}
			if !r.Substitute {
				with[i].PerCM2 = seen[i].PerCM2
			}
			doses, _ := base.DosesSeen(with, at)
			r.dose(doses[i], kit)
			out[i].Choices = append(out[i].Choices, r.FlakeChoice)
		}
		c := &out[i].Choices[0]
		out[i].Says = fmt.Sprintf("%s of %s", c.Take, c.Name)
		if c.Substitute {
			out[i].Says = fmt.Sprintf("the shelf lacks it; as a substitute %s of %s: %s", c.Take, c.Name, c.Why)
		}
	}
	return out, nil
}

// ratedFlake is an owned flake with how well it would stand for a kind; less is better.
type ratedFlake struct {
	m     *material.Material
	score float64
	FlakeChoice
}

func rateFlake(m *material.Material, k *mix.KindSeen, finish material.Finish, pieceOff float64) ratedFlake {
	size := math.Log(m.Flake.SizeIn.Value / k.SizeIN)
	r := ratedFlake{
		m: m, FlakeChoice: FlakeChoice{Material: m.UID, Name: m.Name, DeltaE00: pieceOff, SizeTimes: math.Exp(size)},
	}
	r.score = pieceOff + sizeCounts*math.Max(0, math.Abs(size)-sizeOff/4)/math.Ln2
	if finish != "" && finish != m.Flake.Finish {
		r.score += otherFinish
		r.Why = "its finish is " + string(m.Flake.Finish)
	}
	switch {
	case math.Abs(size) > sizeOff && r.SizeTimes > 1:
		r.Why = fmt.Sprintf("its pieces are %s times as large", measure.Number(r.SizeTimes, 1))
	case math.Abs(size) > sizeOff:
		r.Why = fmt.Sprintf("its pieces are %s of that size", measure.Number(r.SizeTimes, 1))
	case pieceOff > colourOff:
		r.Why = fmt.Sprintf("its colour is ΔE00 %s off", measure.Number(pieceOff, 0))
	}
	r.Substitute = r.Why != ""
	return r
}

// dose gives it what it takes, with the spoons that are owned.
func (r *ratedFlake) dose(a measure.Amount, kit measure.Kit) {
	best, few := kit.Round(a.Value)
	if few != nil {
		best = *few
	}
	a.Value = best.TSP
	r.Dose, r.Take = a, measure.Spoons(best.TSP)
}

// pieceOff is how far a flake's pieces in a base lie from the colour that was seen. A piece lies turned away from the
// light as often as to it, so that brightness counts half.
func pieceOff(body *mix.Mix, f *material.Flake, at mix.Condition, kind *mix.KindSeen) float64 {
	seen := kind.Lab
	// The mean depth at which so many pieces are seen.
	legible := max(body.LegibleDepth(f, at), 0.1)
	perMM3 := max(kind.PerCM2, 0.01) / 100 / legible
	depth := max(optics.SeenPerCM2(perMM3, perMM3*f.AreaMM2(), &body.K, &body.S, at.ThicknessMM)/(100*perMM3)/2, 1e-3)
	hues := body.PieceColours(f, at, depth, 1)
	var mean colour.Lab
	for _, h := range hues {
		n := float64(len(hues))
		mean.L, mean.A, mean.B = mean.L+h[1].L/n, mean.A+h[1].A/n, mean.B+h[1].B/n
	}
	mean.L = (mean.L + seen.L) / 2
	return colour.DeltaE00(mean, seen)
}

// WithFlake matches a base and the flake in it: the base alone, the flake for that base, then the base again for what
// the flake does to its colour.
func WithFlake(
	ctx context.Context, w *Wish, seen []mix.KindSeen, finish []material.Finish, shelf cup.Shelf, kit measure.Kit,
) (*Result, []KindMatched, error) {
	own := *w
	own.Cup.Doses = slices.DeleteFunc(
		slices.Clone(w.Cup.Doses), func(d cup.Dose) bool { return shelf[d.Material].Flake != nil },
	)
	var kinds []KindMatched
	r, err := Search(ctx, &own, shelf, kit, nil)
	if err != nil {
		return nil, nil, err
	}
	bare := own.Cup.Doses
	for range flakeRounds {
		filled := r.Candidates[0].Cup
		mix, err := mix.Stir(&filled, shelf)
		if err != nil {
			return nil, nil, err
		}
		if kinds, err = ChooseFlake(mix, seen, finish, shelf, kit, own.Readings[0].At); err != nil {
			return nil, nil, err
		}
		own.Cup.Doses = slices.Clone(bare)
		for _, k := range kinds {
			c := k.Choices[0]
			at := slices.IndexFunc(own.Cup.Doses, func(d cup.Dose) bool { return d.Material == c.Material })
			if c.Dose.Value <= 0 {
				continue
			}
			if at < 0 {
				own.Cup.Doses = append(
					own.Cup.Doses, cup.Dose{Material: c.Material, Typed: c.Dose.String(), Amount: c.Dose},
				)
			} else if sum, ok := own.Cup.Doses[at].Amount.Plus(c.Dose); ok {
				own.Cup.Doses[at].Amount, own.Cup.Doses[at].Typed = sum, sum.String()
			}
		}
		if r, err = Search(ctx, &own, shelf, kit, nil); err != nil {
			return nil, nil, err
		}
	}
	return r, kinds, nil
}

// Seen are the kinds of flake that were counted; none of nothing.
func Seen(found *flake.Found) ([]mix.KindSeen, error) {
	var seen []mix.KindSeen
	if found == nil {
		return nil, nil
	}
	for _, c := range found.Classes {
		lab, err := colour.ParseHex(c.Hex)
		if err != nil {
			return nil, err
		}
		seen = append(seen, mix.KindSeen{SizeIN: c.SizeIN, Lab: lab, PerCM2: c.PerCM2})
	}
	return seen, nil
}
