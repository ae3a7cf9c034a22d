package web

import (
	"context"
	"fmt"
	"strings"

	"cloudburst/core/age"
	"cloudburst/core/colour"
	"cloudburst/core/cores"
	"cloudburst/core/cup"
	"cloudburst/core/leftover"
	"cloudburst/core/mix"
	"cloudburst/core/picture"
)

// BaitAges is a bait in the days after the pour, and melted again and poured once more.
type BaitAges struct {
	Days  []SheetPicture `json:"days" nullable:"false" doc:"On the day, after two days, after two weeks"`
	Heats []SheetPicture `json:"heats" nullable:"false" doc:"Of plastic that was hot so many times more"`
	Says  []string       `json:"says" nullable:"false" doc:"What becomes of it, and what to do about it"`
}

// shownDays are the days on which a bait is shown.
var shownDays = []float64{0, 2, 14}

// baitAges draws a bait as it ages. One of its cups that is not there stands still, as plain smoke.
func (a *api) baitAges(ctx context.Context, in *BaitPath) (*struct {
	ContentEncoding string `header:"Content-Encoding"`
	Body            BaitAges
}, error,
) {
	h, err := a.holdAt(ctx, in, smallBait)
	if err != nil {
		return nil, problem(err, "")
	}
	shelf, err := shopOf(ctx).Shelf(ctx)
	if err != nil {
		return nil, problem(err, "")
	}
	b := &age.Bait{Shape: &h.shape, Structure: h.saved.Structure}
	for _, v := range h.vessels {
		if v == nil {
			return nil, problem(
				fieldProblem("cups", "one of its cups is still to be chosen; then it is shown how the bait ages"), "",
			)
		}
		b.Cups = append(b.Cups, *v)
	}
	out := &struct {
		ContentEncoding string `header:"Content-Encoding"`
		Body            BaitAges
	}{"identity", BaitAges{Days: make([]SheetPicture, len(shownDays)), Heats: make([]SheetPicture, len(moreHeats))}}
	_, err = dear(ctx, a.budget, func(ctx context.Context) (struct{}, error) {
		if out.Body.Says, err = b.Says(shelf, shelf); err != nil {
			return struct{}{}, err
		}
		return struct{}{}, cores.Each(ctx, len(shownDays)+len(moreHeats), func(i int) (err error) {
			if i < len(shownDays) {
				out.Body.Days[i], err = onDay(h, b, in, shownDays[i], shelf)
			} else {
				i -= len(shownDays)
				out.Body.Heats[i], err = heatedAgain(h, b, in, moreHeats[i], shelf)
			}
			return err
		})
	})
	return out, problem(err, "")
}

// onDay draws a bait some days after the pour.
func onDay(h *holding, b *age.Bait, in *BaitPath, day float64, shelf cup.Shelf) (SheetPicture, error) {
	aged, err := b.After(day, shelf)
	if err != nil {
		return SheetPicture{}, err
	}
	p := h.picture
	p.Structure, p.Cups, p.Laid = aged.Structure, nil, nil
	// a mold's figures for its layers are not those of their slices
	if len(aged.Structure.Layers) != len(b.Structure.Layers) {
		p.Split.ReachPct = nil
	}
	for i := range aged.Cups {
		m, err := mix.Stir(&aged.Cups[i], shelf)
		if err != nil {
			return SheetPicture{}, err
		}
		p.Cups = append(p.Cups, m)
	}
	changes, err := b.Changes(day, shelf)
	if err != nil {
		return SheetPicture{}, err
	}
	name := "On the day"
	if day > 0 {
		name = fmt.Sprintf("After %.0f days", day)
	}
	return agedPicture(&p, in, name, saysOf(changes))
}

func agedPicture(p *picture.BaitPicture, in *BaitPath, name, says string) (SheetPicture, error) {
	img, err := drawBait(p, in.at())
	return SheetPicture{NamedPicture: NamedPicture{img, name, ""}, Says: says}, err
}

func saysOf(changes []age.Change) string {
	var out []string
	for _, c := range changes {
		words := c.Differs.Words
		if words == "" {
			words = c.Differs.Nearness
		}
		out = append(out, fmt.Sprintf("%s: %s, ΔE00 %.1f", c.Part, words, c.Differs.DeltaE00))
	}
	return strings.Join(out, "; ")
}

// heatedAgain draws a bait of plastic that was hot so many times more.
func heatedAgain(h *holding, b *age.Bait, in *BaitPath, heats int, shelf cup.Shelf) (SheetPicture, error) {
	p := h.picture
	p.Cups = nil
	var changes []age.Change
	for i := range b.Cups {
		c := &b.Cups[i]
		m, err := mix.Stir(c, leftover.Aged(shelf, c, float64(heats)*leftover.UsualHeatMin))
		if err != nil {
			return SheetPicture{}, err
		}
		p.Cups = append(p.Cups, m)
		if d := colour.Compare(m.Colour(mix.Compared), h.mixes[i].Colour(mix.Compared)); d.DeltaE00 >= 0.5 {
			changes = append(changes, age.Change{Part: h.cups[i].Name, Differs: d})
		}
	}
	name := "One heat more"
	if heats > 1 {
		name = fmt.Sprintf("%d heats more", heats)
	}
	return agedPicture(&p, in, name, saysOf(changes))
}
