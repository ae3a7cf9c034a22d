package main

import (
	"context"
	"encoding/json"
	"fmt"
	"io"
	"os"
	"reflect"

	"github.com/danielgtaylor/huma/v2"

	"cloudburst/core/colour"
	"cloudburst/core/cup"
	"cloudburst/core/match"
	"cloudburst/core/measure"
	"cloudburst/core/mix"
	"cloudburst/core/optics"
	"cloudburst/format"
	"cloudburst/web"
)

type predictCmd struct {
	File      string    `arg:"" help:"A recipe file; - is standard input."`
	Thickness []float64 `help:"Thicknesses in mm." default:"0.3,1,2,4,8,15,60"`
}

type prediction struct {
	Recipe     string      `json:"recipe"`
	FinishedML float64     `json:"finishedML"`
	Lines      []mix.Line  `json:"lines"`
	Colours    []predicted `json:"colours"`
}

type predicted struct {
	ThicknessMM float64       `json:"thicknessMM"`
	Ground      optics.Ground `json:"ground"`
	Light       colour.Light  `json:"light"`
	mix.Swatch
	SeeThrough float64 `json:"seeThrough"`
}

func readRecipe(file string) (format.Document, error) {
	in, done, err := input(file)
	if err != nil {
		return format.Document{}, err
	}
	defer done()
	return format.ReadRecipe(in)
}

func (c *predictCmd) Run() error {
	doc, err := readRecipe(c.File)
	if err != nil {
		return err
	}
	const most = 60
	if len(c.Thickness) > most {
		return fmt.Errorf("%d thicknesses; up to %d are worked out at once", len(c.Thickness), most)
	}
	shelf := doc.Shelf()
	m, err := mix.Stir(&doc.Recipe.Cup, shelf)
	if err != nil {
		return err
	}
	out := prediction{Recipe: doc.Recipe.Name, FinishedML: m.FinishedML, Lines: m.Lines}
	for _, mm := range c.Thickness {
		for _, ground := range optics.Grounds() {
			for _, light := range colour.Lights() {
				look, err := mix.LookAt(
					&doc.Recipe.Cup, m, shelf, mix.Condition{ThicknessMM: mm, Ground: ground, Light: light},
				)
				if err != nil {
					return err
				}
				out.Colours = append(out.Colours, predicted{mm, ground, light, look.Swatch, look.SeeThrough})
			}
		}
	}
	return print(out)
}

type matchCmd struct {
	File   string `arg:"" help:"A recipe file with a target; - is standard input. Its materials are the shelf."`
	Most   int    `help:"Bottles at most." default:"4"`
	Harder bool   `help:"Work out every set of three."`
}

func (c *matchCmd) Run() error {
	doc, err := readRecipe(c.File)
	if err != nil {
		return err
	}
	r := &doc.Recipe
	if r.Target == nil {
		return fmt.Errorf("%s has no target to match; pin one on a reference and save the recipe again", r.Name)
	}
	w := match.Wish{
		Cup:      cup.Cup{Volume: r.Volume, Plastisol: r.Plastisol, Target: r.Target},
		Readings: []match.Reading{match.Targets(r.Target)}, Most: c.Most,
	}
	shelf := doc.Shelf()
	for _, m := range doc.Materials {
		if m.Colourant != nil || m.Powder != nil {
			w.Allowed = append(w.Allowed, m.UID)
		}
	}
	for _, d := range r.Doses { // salt, flake and the like go in anyway, and are seen
		if m := shelf[d.Material]; m.Flake != nil || m.Additive != nil {
			w.Cup.Doses = append(w.Cup.Doses, d)
		}
	}
	search := match.Search
	if c.Harder {
		search = match.Harder
	}
	out, err := search(context.Background(), &w, shelf, measure.Kit{}, nil)
	if err != nil {
		return err
	}
	return print(out)
}

type opticsCmd struct {
	File string `arg:"" help:"A file of cases: layers with K and S in 1/mm and x_mm, view, surfaces, ground; - is standard input."`
}

// opticsCase is a case as in core/optics/testdata; what it does not name is left alone.
type opticsCase struct {
	ID     string `json:"id"`
	Layers []struct {
		K []*float64 `json:"K"`
		S []*float64 `json:"S"`
		X *float64   `json:"x_mm"`
	} `json:"layers"`
	View     string   `json:"view"`
	Surfaces bool     `json:"surfaces"`
	Ground   *float64 `json:"ground"`
}

// The most that a figure of a case can be, in 1/mm and mm: far beyond any plastic, and still worked out.
const (
	mostPerMM = 1e6
	mostMM    = 1e4
)

type opticsResult struct {
	ID       string           `json:"id"`
	R        *colour.Spectrum `json:"R,omitempty"`
	T        *colour.Spectrum `json:"T,omitempty"`
	Lab      [3]float64       `json:"Lab_D65_2deg"`
	Internal opticsInternal   `json:"internal"`
}

type opticsInternal struct {
	R0     colour.Spectrum `json:"R0"`
	R0Back colour.Spectrum `json:"R0_back"`
	T0     colour.Spectrum `json:"T0"`
}

func (c *opticsCmd) Run() error {
	in, done, err := input(c.File)
	if err != nil {
		return err
	}
	defer done()
	var file struct {
		Cases []opticsCase `json:"cases"`
	}
	dec := json.NewDecoder(in)
	if err := dec.Decode(&file); err != nil {
		return fmt.Errorf("%s is no JSON file of cases: %w", c.File, err)
	}
	if _, err := dec.Token(); err != io.EOF {
		return fmt.Errorf("%s goes on after its cases; take out what stands behind them", c.File)
	}
	if len(file.Cases) == 0 {
		return fmt.Errorf(`%s has no "cases"`, c.File)
	}
	var out struct {
		Cases []opticsResult `json:"cases"`
	}
	for i, cs := range file.Cases {
		r, err := cs.solve()
		if err != nil {
			return fmt.Errorf("case %d (%s): %w", i+1, cs.ID, err)
		}
		out.Cases = append(out.Cases, r)
	}
	return print(out)
}

func (cs *opticsCase) solve() (opticsResult, error) {
	var layers []optics.Layer
	for i, l := range cs.Layers {
		if len(l.K) != colour.Bands || len(l.S) != colour.Bands {
			return opticsResult{}, fmt.Errorf(
				"layer %d has %d values of K and %d of S; each has %d, from 380 to 730 nm", i+1, len(l.K), len(l.S),
				colour.Bands,
			)
		}
		if l.X == nil || !(*l.X >= 0 && *l.X <= mostMM) {
			return opticsResult{}, fmt.Errorf("layer %d: x_mm is a thickness from 0 to %g mm", i+1, mostMM)
		}
		layer := optics.Layer{ThicknessMM: *l.X}
		for b := range layer.K {
			for _, v := range []struct {
				from *float64
				to   *float64
			}{{l.K[b], &layer.K[b]}, {l.S[b], &layer.S[b]}} {
				if v.from == nil || !(*v.from >= 0 && *v.from <= mostPerMM) {
					return opticsResult{}, fmt.Errorf(
						"layer %d: K and S are figures from 0 to %g, in 1/mm; none is left out", i+1, mostPerMM,
					)
				}
				*v.to = *v.from
			}
		}
		layers = append(layers, layer)
	}
	reflects := 0.0
	switch {
	case cs.Ground != nil:
		reflects = *cs.Ground
	case cs.View != "transmission":
		return opticsResult{}, fmt.Errorf("say what the ground reflects, between 0 and 1")
	}
	if !(reflects >= 0 && reflects <= 1) {
		return opticsResult{}, fmt.Errorf("a ground reflects between 0 and 1, not %g", reflects)
	}
	st := optics.Pile(layers...)
	var surface optics.Surface
	if cs.Surfaces {
		surface = optics.InAir
	}
	piece := surface.Enclose(&st)
	ground := colour.Flat(reflects)
	out := opticsResult{ID: cs.ID, Internal: opticsInternal{st.R, st.RBack, st.T}}
	var seen colour.Spectrum
	switch cs.View {
	case "transmission":
		seen = piece.Through
		out.T = &seen
	case "gap":
		seen = piece.Over(&ground)
		out.R = &seen
	case "contact":
		seen = surface.Joined(&st, &ground)
		out.R = &seen
	default:
		return out, fmt.Errorf("the view %q is none of contact, gap, transmission", cs.View)
	}
	lab := colour.D65.Lab(&seen)
	out.Lab = [3]float64{lab.L, lab.A, lab.B}
	return out, nil
}

func input(file string) (io.Reader, func(), error) {
	if file == "-" {
		return os.Stdin, func() {}, nil
	}
	f, err := os.Open(file)
	if err != nil {
		return nil, nil, fmt.Errorf("%s can't be read: %s", file, reason(err))
	}
	return f, func() { f.Close() }, nil
}

func print(v any) error {
	enc := json.NewEncoder(os.Stdout)
	enc.SetIndent("", "  ")
	return enc.Encode(v)
}

type openAPICmd struct{}

func (openAPICmd) Run() error {
	raw, err := web.OpenAPI()
	if err != nil {
		return err
	}
	fmt.Println(string(raw))
	return nil
}

// schemaCmd prints the JSON Schema of the recipe file, made from the Go types that read it.
type schemaCmd struct{}

func (schemaCmd) Run() error {
	registry := huma.NewMapRegistry("#/$defs/", huma.DefaultSchemaNamer)
	root := registry.Schema(reflect.TypeFor[format.Document](), true, "Document")
	return print(map[string]any{
		"$schema":     "https://json-schema.org/draft/2020-12/schema",
		"title":       "Cloudburst recipe file, version 1",
		"description": "One recipe with every material that it uses. Units are in the names of the fields.",
		"$ref":        root.Ref,
		"$defs":       registry.Map(),
	})
}
