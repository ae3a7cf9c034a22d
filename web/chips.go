package web

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"strings"

	"cloudburst/core/colour"
	"cloudburst/core/cup"
	"cloudburst/core/learn"
	"cloudburst/core/match"
	"cloudburst/core/material"
	"cloudburst/core/measure"
	"cloudburst/core/mix"
	"cloudburst/core/optics"
	"cloudburst/core/recipe"
)

// ChipAsk are chips of a bottle, or clear ones of a plastisol, as they were poured and read.
type ChipAsk struct {
	Volume    string     `json:"volume" maxLength:"60" doc:"Plastisol of each chip cup, as typed"`
	Plastisol string     `json:"plastisol,omitempty" maxLength:"64" format:"uid" doc:"The first of the shelf where empty"`
	How       recipe.How `json:"how" enum:"instrument,photo,eye,words"`
	Loads     []ChipLoad `json:"loads" nullable:"false" minItems:"1" maxItems:"6"`
	Family    bool       `json:"family" doc:"Lean on the shape of its family, where it fits"`
}

// ChipLoad is one chip cup.
type ChipLoad struct {
	Dose  string     `json:"dose" maxLength:"60" doc:"Of the bottle, as typed; empty in a clear chip"`
	Cells []ChipCell `json:"cells" nullable:"false" maxItems:"40"`
}

// ChipCell is one place of a chip.
type ChipCell struct {
	ThicknessMM float64       `json:"thicknessMM" minimum:"0.05" maximum:"100"`
	Ground      optics.Ground `json:"ground" enum:"white,dark,grey,against,metal,hand"`
	TiltDeg     float64       `json:"tiltDeg,omitempty" minimum:"0" maximum:"60" doc:"How far the chip was turned away from the mirror direction; of powders"`
	Lab         string        `json:"lab" maxLength:"60" doc:"L, a and b as typed; empty where it was not read"`
}

// ChipAnswer is what chips say of a bottle.
type ChipAnswer struct {
	Readings int                `json:"readings"`
	Residual float64            `json:"residual" doc:"ΔE00 between the readings and the curve: root of the mean square"`
	Says     string             `json:"says"`
	NM       []float64          `json:"nm" nullable:"false"`
	K        []float64          `json:"k" nullable:"false" doc:"What 1 ml in a litre takes, 1/mm"`
	S        []float64          `json:"s" nullable:"false" doc:"What it scatters"`
	WasK     []float64          `json:"wasK" nullable:"false" doc:"The same by its figures until now"`
	WasS     []float64          `json:"wasS" nullable:"false"`
	Before   []mix.Swatch       `json:"before" nullable:"false" doc:"A usual dose by its figures, thin to thick"`
	After    []mix.Swatch       `json:"after" nullable:"false"`
	Differs  *colour.Difference `json:"differs,omitempty"`
}

// ChipGuide is how chips are best poured and read.
type ChipGuide struct {
	MM      []float64       `json:"mm" nullable:"false"`
	Grounds []optics.Ground `json:"grounds" nullable:"false" enum:"white,dark,grey,against,metal,hand"`
	Tilts   []float64       `json:"tilts" nullable:"false" doc:"Degrees; face-on alone, but for powders"`
	Loads   []string        `json:"loads" nullable:"false" doc:"Two doses, the weak one first; none for a clear chip"`
	Says    string          `json:"says"`
}

func (a *api) chipRoutes() {
	post(a, "guideChips", "/materials/{material}/chips/guide", a.guideChips, asks)
	post(a, "previewChips", "/materials/{material}/chips/preview", a.previewChips, asks)
	put(a, "keepChips", "/materials/{material}/chips", a.keepChips)
	remove(a, "forgetChips", "/materials/{material}/chips", a.forgetChips)
}

// chipBench is what is needed to work chips out.
type chipBench struct {
	m      material.Material
	base   string
	volume measure.Volume
	shelf  cup.Shelf
	kit    measure.Kit
}

func (a *api) chipBench(ctx context.Context, uid, volume, plastisol string) (*chipBench, error) {
	item, err := shopOf(ctx).Item(ctx, uid)
	if err != nil {
		return nil, problem(err, "")
	}
	b := &chipBench{m: item.Material, base: plastisol}
	if b.shelf, b.kit, err = a.tools(ctx); err != nil {
		return nil, problem(err, "")
	}
	b.shelf[uid] = item.Material // by its own figures
	if b.volume, err = measure.ParseVolume(cmp.Or(strings.TrimSpace(volume), "1/2 cup")); err != nil {
		return nil, fieldProblem("volume", err.Error())
	}
	if b.base == "" {
		items, err := shopOf(ctx).Materials(ctx)
		if err != nil {
			return nil, problem(err, "")
		}
		if len(items) == 0 || items[0].Plastisol == nil {
			return nil, fieldProblem("plastisol", "There is no plastisol on the shelf yet. Add one there first.")
		}
		b.base = items[0].UID
	}
	if m, ok := b.shelf[b.base]; !ok || m.Plastisol == nil {
		return nil, fieldProblem("plastisol", "Choose a plastisol of your shelf.")
	}
	if b.m.Colourant == nil && b.m.Plastisol == nil && b.m.Powder == nil || b.m.Colourant != nil &&
		len(b.m.Colourant.Contains) > 0 {
		return nil, fieldProblem(
			"material",
			"Chips are poured of liquid colours, powders and plastisol. A dilution is what its bottles are; measure those.",
		)
	}
	return b, nil
}

type guideChipsIn struct {
	BottlePath
	Body struct {
		Volume    string    `json:"volume" maxLength:"60"`
		Plastisol string    `json:"plastisol,omitempty" maxLength:"64" format:"uid"`
		First     *ChipLoad `json:"first,omitempty" doc:"A first drop test: one dose, one place"`
	}
}

func (a *api) guideChips(ctx context.Context, in *guideChipsIn) (*struct{ Body ChipGuide }, error) {
	b, err := a.chipBench(ctx, in.UID, in.Body.Volume, in.Body.Plastisol)
	if err != nil {
		return nil, err
	}
	g := ChipGuide{MM: learn.ChipMM, Grounds: learn.ChipGrounds, Tilts: []float64{0}, Loads: []string{}}
	if b.m.Powder != nil {
		weak, strong := learn.PowderLoads(&b.m, b.volume, b.kit)
		g.MM, g.Tilts, g.Loads = learn.PowderMM, learn.PowderTilts, []string{weak.String(), strong.String()}
		g.Says = fmt.Sprintf(
			"Pour two chips of %s each: one with %s, one with %s, each thin and thick. Let them rest overnight, and read each on white and on dark paper, face-on with the light behind you, then tilted by 45 degrees.",
			b.volume, weak, strong,
		)
		return &struct{ Body ChipGuide }{g}, nil
	}
	if b.m.Plastisol != nil {
		g.Says = "Pour clear plastisol as a step chip, let it rest overnight, and read each step on white and on dark paper."
		return &struct{ Body ChipGuide }{g}, nil
	}
	strength := 1.0
	if in.Body.First != nil {
		p, err := b.poured(&ChipAsk{How: recipe.ByInstrument, Loads: []ChipLoad{*in.Body.First}})
		if err != nil {
			return nil, problem(err, "")
		}
		if strength, err = learn.FirstDrop(&b.m, b.base, &p[0], b.shelf); err != nil {
			return nil, problem(err, "")
		}
	}
	weak, strong, err := learn.Loads(&b.m, b.base, b.volume, strength, b.shelf)
	if err != nil {
		return nil, problem(err, "")
	}
	g.Loads = []string{weak.String(), strong.String()}
	g.Says = fmt.Sprintf(
		"Pour two step chips of %s each: one with %s, one with %s. Let them rest overnight, and read each step on white and on dark paper.",
		b.volume, weak, strong,
	)
	if in.Body.First != nil {
		g.Says = fmt.Sprintf(
			"By that drop it is %s times as strong as its figures. ", measure.Number(strength, 1),
		) + g.Says
	}
	return &struct{ Body ChipGuide }{g}, nil
}

// poured reads chips as typed.
func (b *chipBench) poured(in *ChipAsk) ([]learn.Poured, error) {
	out := make([]learn.Poured, len(in.Loads))
	for i, l := range in.Loads {
		out[i] = learn.Poured{Volume: b.volume}
		if b.m.Plastisol == nil {
			dose, err := b.kit.ParseDose(l.Dose, b.m.Form(), b.volume.ML)
			if err != nil {
				return nil, measure.Faulty(fmt.Sprintf("loads[%d].dose", i), "%s", err)
			}
			if dose.Value <= 0 {
				return nil, measure.Faulty(fmt.Sprintf("loads[%d].dose", i), "how much went into this chip?")
			}
			out[i].Dose = dose
		}
		for k, c := range l.Cells {
			if strings.TrimSpace(c.Lab) == "" {
				continue
			}
			lab, err := learn.ParseLab(c.Lab)
			field := fmt.Sprintf("loads[%d].cells[%d].lab", i, k)
			if err != nil {
				return nil, measure.Faulty(field, "%s", err)
			}
			r := recipe.PartReading{
				Name: "chip", Lab: lab, ThicknessMM: c.ThicknessMM, Ground: c.Ground, State: cup.Rested, How: in.How,
			}
			if err := r.Check(); err != nil {
				var f *measure.Fault
				if errors.As(err, &f) {
					return nil, measure.Faulty(field, "%s", f.Says)
				}
				return nil, err
			}
			out[i].Read, out[i].Tilts = append(out[i].Read, r), append(out[i].Tilts, c.TiltDeg)
		}
	}
	return out, nil
}

// found works out what chips make of a bottle.
func (a *api) found(ctx context.Context, b *chipBench, in *ChipAsk) (is material.Material, out ChipAnswer, err error) {
	poured, err := b.poured(in)
	if err != nil {
		return is, out, err
	}
	is = b.m
	if b.m.Plastisol != nil {
		var all []recipe.PartReading
		for _, p := range poured {
			all = append(all, p.Read...)
		}
		out.Readings = len(all)
		if is.Plastisol, out.Residual, err = learn.CalibrateBase(b.m.Plastisol, all); err != nil {
			return is, out, err
		}
		o := is.Plastisol.Optics
		out.Says = fmt.Sprintf("Haze %s, yellow %s, grey %s per mm; that meets the readings to ΔE00 %s.",
			measure.Figures(o.ScatterPerMM), measure.Figures(o.YellowPerMM), measure.Figures(o.FloorPerMM), measure.Number(out.Residual, 1))
		b.compare(&is, &out)
		return is, out, nil
	}
	chips, err := learn.ChipsOf(&b.m, b.base, poured, b.shelf)
	if err != nil {
		return is, out, err
	}
	if b.m.Powder != nil {
		powder, err := dear(ctx, a.budget, func(context.Context) (*learn.PowderFound, error) {
			return learn.CalibratePowder(&b.m, b.base, chips, b.shelf)
		})
		if err != nil {
			return is, out, err
		}
		out.Readings, out.Residual, out.Says = len(chips), powder.Residual, powder.Says(b.m.Powder)
		b.compare(&powder.Material, &out)
		return powder.Material, out, nil
	}
	var family *match.Coefficients
	if in.Family {
		k, s := b.m.Colourant.Coefficients()
		family = &match.Coefficients{K: k, S: s}
	}
	base := b.shelf[b.base]
	curves, err := dear(
		ctx, a.budget,
		func(context.Context) (*learn.Curves, error) { return learn.Calibrate(base.Plastisol, chips, family) },
	)
	if err != nil {
		return is, out, err
	}
	out.Readings, out.Residual, out.Says = len(chips), curves.Residual, curves.Says()
	if is, err = b.m.ByChips(curves.Curve(len(chips))); err != nil {
		return is, out, err
	}
	b.compare(&is, &out)
	return is, out, nil
}

// compare puts a bottle before and after side by side.
func (b *chipBench) compare(is *material.Material, out *ChipAnswer) {
	coefficients := func(m *material.Material) (k, s colour.Spectrum) {
		switch {
		case m.Plastisol != nil:
			return m.Plastisol.Coefficients()
		case m.Powder != nil:
			return m.Powder.Coefficients()
		}
		return m.Colourant.Coefficients()
	}
	k, s := coefficients(is)
	wasK, wasS := coefficients(&b.m)
	out.K, out.S, out.WasK, out.WasS = k[:], s[:], wasK[:], wasS[:]
	out.NM, out.Before, out.After = []float64{}, []mix.Swatch{}, []mix.Swatch{}
	for i := range colour.Bands {
		out.NM = append(out.NM, colour.NM(i))
	}
	dose := is.Middling()
	was, _ := mix.Alone(&b.m, b.shelf, dose)
	now, _ := mix.Alone(is, b.shelf, dose)
	if was == nil || now == nil {
		return
	}
	var last [2]colour.Lab
	ground := optics.White
	if is.Powder != nil { // over dark it shows its sheen
		ground = optics.Dark
	}
	for _, mm := range learn.ChipMM {
		at := mix.Condition{ThicknessMM: mm, Ground: ground, Light: colour.D65, State: cup.Rested}
		last = [2]colour.Lab{was.Colour(at), now.Colour(at)}
		out.Before, out.After = append(out.Before, mix.NewSwatch(last[0])), append(out.After, mix.NewSwatch(last[1]))
	}
	d := colour.Compare(last[1], last[0])
	out.Differs = &d
}

type chipsIn struct {
	BottlePath
	Body ChipAsk
}

func (a *api) previewChips(ctx context.Context, in *chipsIn) (*struct{ Body ChipAnswer }, error) {
	b, err := a.chipBench(ctx, in.UID, in.Body.Volume, in.Body.Plastisol)
	if err != nil {
		return nil, err
	}
	_, out, err := a.found(ctx, b, &in.Body)
	return &struct{ Body ChipAnswer }{out}, problem(err, "")
}

type keepChipsIn struct {
	BottlePath
	Body struct {
		Seen int `json:"seen" doc:"The revision that was seen"`
		ChipAsk
	}
}

// keepChips puts what chips have found on the bottle, in place of its figures.
func (a *api) keepChips(ctx context.Context, in *keepChipsIn) (*bottleAnswer, error) {
	b, err := a.chipBench(ctx, in.UID, in.Body.Volume, in.Body.Plastisol)
	if err != nil {
		return nil, err
	}
	is, _, err := a.found(ctx, b, &in.Body.ChipAsk)
	if err != nil {
		return nil, problem(err, "")
	}
	item, err := shopOf(ctx).ChangeMaterial(ctx, is, in.Body.Seen)
	return a.bottle(ctx, item, err)
}

type forgetChipsIn struct {
	BottlePath
	Seen int `query:"seen" required:"true" minimum:"1" doc:"The revision that was seen"`
}

// forgetChips takes a bottle back to its own figures.
func (a *api) forgetChips(ctx context.Context, in *forgetChipsIn) (*bottleAnswer, error) {
	item, err := shopOf(ctx).Item(ctx, in.UID)
	if err != nil {
		return nil, problem(err, "")
	}
	m, err := item.ByChips(nil)
	if err != nil {
		return nil, problem(measure.Faulty("material", "%s", err), "")
	}
	item, err = shopOf(ctx).ChangeMaterial(ctx, m, in.Seen)
	return a.bottle(ctx, item, err)
}
