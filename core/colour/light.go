package colour

import (
	_ "embed"
	"encoding/csv"
	"fmt"
	"strconv"
	"strings"
)

// XYZ are tristimulus values of the 1931 2° observer, Y = 100 for the perfect reflector.
type XYZ struct{ X, Y, Z float64 }

// Light names a light of the tables.
type Light string

// The lights. LED is made up (a 450 nm peak and a 598 nm phosphor, about 3,000 K); no real lamp.
const (
	D65   Light = "D65"
	D50   Light = "D50"
	A     Light = "A"
	Shade Light = "D75"
	LED   Light = "LED3000S"
	F2    Light = "F2"
	F11   Light = "F11"
)

// Lights lists every light of the tables, daylight first.
func Lights() []Light { return []Light{D65, D50, Shade, A, LED, F2, F11} }

// Name says what the light is, in a maker's words.
func (l Light) Name() string {
	return map[Light]string{
		D65: "overcast daylight", D50: "sun", Shade: "open shade", A: "warm lamp",
		LED: "shop LED (a made-up lamp)", F2: "cool white tube", F11: "narrow-band tube",
	}[l]
}

// ParseLight accepts a light's table name. The empty string is overcast daylight.
func ParseLight(s string) (Light, error) {
	if s == "" {
		return D65, nil
	}
	if _, ok := weights[Light(s)]; !ok {
		return "", fmt.Errorf("no light is called %q; use one of D65, D50, D75, A, LED3000S, F2, F11", s)
	}
	return Light(s), nil
}

// weightSet are the folded weights of one light: XYZ = Σ weight × reflectance.
type weightSet struct {
	x, y, z Spectrum
	white   XYZ // the column sums
}

// The weights fold light, observer and third-order interpolation of the reflectance into 36 terms
// (in the manner of ASTM E308), so that 10 nm data give what a 1 nm integration would.
//
//go:embed weights_10nm.csv
var weightsCSV string

var weights = readWeights(weightsCSV)

func readWeights(text string) map[Light]*weightSet {
	rows, err := csv.NewReader(strings.NewReader(text)).ReadAll()
	if err != nil || len(rows) != Bands+1 {
		panic(fmt.Sprintf("colour: the embedded weights are damaged (%d rows): %v", len(rows), err))
	}
	sets := map[Light]*weightSet{}
	for col := 1; col+2 < len(rows[0]); col += 3 {
		set := &weightSet{}
		for band := range Bands {
			row := rows[band+1]
			set.x[band], set.y[band], set.z[band] = mustFloat(row[col]), mustFloat(row[col+1]), mustFloat(row[col+2])
			set.white.X += set.x[band]
			set.white.Y += set.y[band]
			set.white.Z += set.z[band]
		}
		sets[Light(strings.TrimSuffix(rows[0][col], "_Wx"))] = set
	}
	return sets
}

func mustFloat(s string) float64 {
	v, err := strconv.ParseFloat(s, 64)
	if err != nil {
		panic("colour: the embedded tables are damaged: " + err.Error())
	}
	return v
}

// White is the tristimulus value of the perfect reflector under the light.
func (l Light) White() XYZ { return weights[l].white }

// XYZ of a reflecting or transmitting spectrum under the light.
func (l Light) XYZ(r *Spectrum) XYZ {
	w := weights[l]
	var t XYZ
	for i, v := range r {
		t.X += w.x[i] * v
		t.Y += w.y[i] * v
		t.Z += w.z[i] * v
	}
	return t
}

// Lab of a reflecting or transmitting spectrum under the light, relative to that light's white.
func (l Light) Lab(r *Spectrum) Lab { return l.XYZ(r).Lab(l.White()) }

// Luminous is the share of light, weighed as the eye weighs it, that the spectrum sends on (0..1).
func (l Light) Luminous(r *Spectrum) float64 { return l.XYZ(r).Y / l.White().Y }
