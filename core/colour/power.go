package colour

import (
	_ "embed"
	"encoding/csv"
	"strings"
)

//go:embed illuminants_10nm.csv
var illuminantsCSV string

//go:embed cie1931_2deg_10nm.csv
var observerCSV string

var (
	observer = columns(observerCSV)
	power    = columns(illuminantsCSV)
)

func columns(text string) map[string]*Spectrum {
	rows, err := csv.NewReader(strings.NewReader(text)).ReadAll()
	if err != nil || len(rows) != Bands+1 {
		panic("colour: a table does not have its 36 bands")
	}
	out := map[string]*Spectrum{}
	for col, name := range rows[0][1:] {
		s := new(Spectrum)
		for b := range s {
			s[b] = mustFloat(rows[b+1][col+1])
		}
		out[name] = s
	}
	return out
}

// Power is the relative power of the light, band by band. The two tubes have no table of their own here; theirs is
// read back from the folded weights, which smears their lines over a band or two.
func (l Light) Power() Spectrum {
	if p, ok := power[string(l)]; ok {
		return *p
	}
	var out Spectrum
	w := weights[l]
	for b := range out {
		sum := observer["xbar"][b] + observer["ybar"][b] + observer["zbar"][b]
		out[b] = max(0, (w.x[b]+w.y[b]+w.z[b])/sum)
	}
	return out
}

// Directional is the share of the light that comes from one direction, which makes powders and flake glint.
func (l Light) Directional() float64 {
	return directional[l]
}

var directional = map[Light]float64{D65: 0.1, D50: 0.8, Shade: 0.15, A: 0.6, LED: 0.5, F2: 0.3, F11: 0.3}

// EyeMean is the mean over the bands as the eye weighs them in daylight (D65 times the observer's ȳ).
func EyeMean(v *Spectrum) float64 {
	var sum, all float64
	for b, e := range power["D65"] {
		w := e * observer["ybar"][b]
		sum += w * v[b]
		all += w
	}
	return sum / all
}
