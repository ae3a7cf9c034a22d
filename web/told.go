package web

import (
	"context"
	"strings"

	"github.com/danielgtaylor/huma/v2"

	"cloudburst/core/colour"
	"cloudburst/core/cup"
	"cloudburst/core/measure"
	"cloudburst/core/mix"
	"cloudburst/core/optics"
	"cloudburst/core/photo"
	"cloudburst/core/reference"
	"cloudburst/format"
)

// mostTold bounds how many readings one file brings.
const mostTold = 40

// ToldInput is what is known of a part without a photo: its Lab, an instrument's file, or words.
type ToldInput struct {
	Name        string        `json:"name" maxLength:"200" doc:"The part; empty takes the names in the file"`
	ThicknessMM float64       `json:"thicknessMM"`
	Ground      optics.Ground `json:"ground" enum:"white,dark,grey,against,metal,hand"`
	Sample      int           `json:"sample,omitempty" minimum:"0" maximum:"40" doc:"Which bait of a bag; 0 where it is the only one"`
	State       cup.State     `json:"state,omitempty" enum:"hot,fresh,rested"`
	Lab         *colour.Lab   `json:"lab,omitempty" doc:"Under D65"`
	File        string        `json:"file,omitempty" maxLength:"400000" doc:"CGATS or CSV with LAB under D65 or D50, or spectra; every line is a reading"`
	Words       string        `json:"words,omitempty" maxLength:"200"`
}

// readings are what was told, each under its name.
func (in *ToldInput) readings() (names []string, list []photo.Reading, err error) {
	switch {
	case in.Lab != nil:
		return []string{in.Name}, []photo.Reading{photo.Told(*in.Lab, photo.Typed)}, nil
	case strings.TrimSpace(in.Words) != "":
		lab, err := colour.FromWords(in.Words)
		if err != nil {
			return nil, nil, measure.Faulty("words", "%s", err)
		}
		return []string{in.Name}, []photo.Reading{photo.Told(lab, photo.Words)}, nil
	case strings.TrimSpace(in.File) != "":
		measured, err := format.ReadMeasured(strings.NewReader(in.File))
		switch {
		case err != nil:
			return nil, nil, measure.Faulty("file", "%s", err)
		case len(measured) == 0 || len(measured) > mostTold:
			return nil, nil, measure.Faulty(
				"file", "this file has %d readings; 1 to %d are taken at once", len(measured), mostTold,
			)
		}
		for _, m := range measured {
			from := photo.Typed
			if m.Spectral {
				from = photo.Spectrum
			}
			name := m.Name
			if in.Name != "" && len(measured) == 1 {
				name = in.Name
			}
			r := photo.Told(m.Lab, from)
			if m.Adapted {
				r = r.Adapted()
			}
			names, list = append(names, name), append(list, r)
		}
		return names, list, nil
	}
	return nil, nil, measure.Faulty("lab", "type its Lab, choose a file, or say it in words")
}

func (a *api) toldRoutes() {
	const withFile = 512 << 10
	post(
		a, "addReadings", "/references/{reference}/readings", a.addReadings,
		func(o *huma.Operation) { o.MaxBodyBytes = withFile },
	)
	post(a, "referenceOfCup", "/cups/{cup}/reference", a.referenceOfCup)
}

func (a *api) addPin(ctx context.Context, reference string, p reference.Pin) error {
	if err := p.Check(); err != nil {
		return err
	}
	return shopOf(ctx).AddPins(ctx, reference, p)
}

type addReadingsIn struct {
	ReferencePath
	Body ToldInput
}

func (a *api) addReadings(ctx context.Context, in *addReadingsIn) (*referenceAnswer, error) {
	names, readings, err := in.Body.readings()
	if err != nil {
		return nil, problem(err, "")
	}
	var pins []reference.Pin
	for i, r := range readings {
		p := reference.Pin{
			Name: strings.TrimSpace(names[i]), ThicknessMM: in.Body.ThicknessMM, Ground: in.Body.Ground,
			Sample: in.Body.Sample, State: in.Body.State, Reading: r,
		}
		if err := p.Check(); err != nil { // all of a file, or none
			return nil, problem(err, "")
		}
		pins = append(pins, p)
	}
	return a.reference(ctx, in.UID, shopOf(ctx).AddPins(ctx, in.UID, pins...))
}

type referenceOfCupIn struct {
	CupPath
	Body struct {
		Name string `json:"name" maxLength:"200"`
	}
}

func (a *api) referenceOfCup(ctx context.Context, in *referenceOfCupIn) (*referenceAnswer, error) {
	name := strings.TrimSpace(in.Body.Name)
	if err := cup.CheckName(name); err != nil {
		return nil, problem(err, "")
	}
	b, m, shelf, err := a.stirred(ctx, in.CupPath.UID)
	if err != nil {
		return nil, problem(err, "")
	}
	seen := in.at(&b.Cup.Cup)
	at := mix.Condition{ThicknessMM: seen.ThicknessMM, Ground: seen.Ground, Light: colour.D65, State: seen.State}
	if at.State == cup.Raw || at.State == "" {
		at.State = cup.Rested
	}
	look, err := mix.LookAt(&b.Cup.Cup, m, shelf, at)
	if err != nil {
		return nil, problem(err, "")
	}
	r, err := shopOf(ctx).AddReference(ctx, name, "", reference.Pin{
		Name: "Body", ThicknessMM: at.ThicknessMM, Ground: at.Ground, State: at.State, Reading: photo.Told(
			look.Swatch.Lab, photo.FromCup,
		),
	})
	return a.reference(ctx, r.UID, err)
}
