package photo_test

import (
	"bytes"
	"encoding/csv"
	_ "image/jpeg"
	"math"
	"os"
	"strconv"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	_ "golang.org/x/image/webp"

	"cloudburst/core/colour"
	. "cloudburst/core/photo"
	"cloudburst/testkit/shots"
)

func TestWhiteAndGreyOnTheShots(t *testing.T) {
	var off, warm []float64
	for _, s := range shots.In(t, "testdata/shots/", "wg") {
		var white, grey Thing
		for _, p := range s.Patches {
			thing := Thing{Disc: shots.Disc(p.Center, p.Radius*0.8), Lab: shots.Lab(p.Lab)}
			if p.Kind == "white" {
				white = thing
			} else {
				grey = thing
			}
		}
		l, err := ByWhiteAndGrey(s.Picture, white, grey, colour.Light(s.Light))
		require.NoError(t, err, s.ID)
		t.Logf(
			"%s %s: tone %.3f, even %.2f %v, residual %.1f, warmth %.2f %v", s.ID, s.Light, l.Tone, l.Even.Paper,
			l.Even.Fit,
			l.Residual, l.Warmth, l.Warnings,
		)
		for _, r := range s.Regions {
			got, err := Sample(s.Picture, shots.Disc(r.Center, r.Radius), l)
			require.NoError(t, err)
			e := colour.DeltaE00(shots.Lab(r.Lab), got.Lab)
			t.Logf(
				"   %-8s truth %v got %.1f %.1f %.1f: off %.2f, said %.1f %s", r.Name, r.Lab, got.Lab.L, got.Lab.A,
				got.Lab.B, e,
				got.Error, got.Warning,
			)
			if s.Light == "A" || s.Light == "LED3000S" {
				warm = append(warm, e)
			} else {
				off = append(off, e)
			}
		}
	}
	t.Logf(
		"daylight median %.2f of %d, warm median %.2f of %d", shots.Quantile(off, 0.5), len(off),
		shots.Quantile(warm, 0.5),
		len(warm),
	)
	assert.Less(t, shots.Quantile(off, 0.5), 2.5)
	assert.Less(t, shots.Quantile(warm, 0.5), 3.5)
}

// simulatedCard is the card that lies in the simulated photos.
func simulatedCard(t testing.TB) *Chart {
	t.Helper()
	raw, err := os.ReadFile("testdata/shots/card24.csv")
	require.NoError(t, err)
	rows, err := csv.NewReader(bytes.NewReader(raw)).ReadAll()
	require.NoError(t, err)
	c := &Chart{Name: "24 patches", Rows: 4, Columns: 6, Border: 0.09}
	for _, r := range rows[1:] {
		var v [3]float64
		for i := range v {
			v[i], err = strconv.ParseFloat(r[3+i], 64)
			require.NoError(t, err)
		}
		c.Patches = append(c.Patches, shots.Lab(v))
	}
	return c
}

func TestTheCardOnTheShots(t *testing.T) {
	chart := simulatedCard(t)
	var off []float64
	for _, s := range shots.In(t, "testdata/shots/", "card") {
		for i, d := range chart.Spots(s.Card.Corners) {
			c := s.Card.Centres[i]
			assert.Less(t, math.Hypot(d.X-c[0], d.Y-c[1]), 4.0, "%s: patch %d is found", s.ID, i)
		}
		l, err := ByCard(s.Picture, s.Card.Corners, chart)
		require.NoError(t, err, s.ID)
		t.Logf(
			"%s %s: tone %.3f veil %.4f even %.2f, residual %.1f, warmth %.2f %v, matrix %.2f", s.ID, s.Light, l.Tone,
			l.Veil,
			l.Even.Paper, l.Residual, l.Warmth, l.Warnings, l.Matrix,
		)
		for _, r := range s.Regions {
			got, err := Sample(s.Picture, shots.Disc(r.Center, r.Radius), l)
			require.NoError(t, err)
			e := colour.DeltaE00(shots.Lab(r.Lab), got.Lab)
			t.Logf(
				"   %-8s truth %v got %.1f %.1f %.1f: off %.2f, said %.1f %s", r.Name, r.Lab, got.Lab.L, got.Lab.A,
				got.Lab.B, e,
				got.Error, got.Warning,
			)
			off = append(off, e)
		}
	}
	t.Logf("median %.2f, 90th %.2f of %d", shots.Quantile(off, 0.5), shots.Quantile(off, 0.9), len(off))
	assert.Less(t, shots.Quantile(off, 0.5), 1.5)
	assert.Less(t, shots.Quantile(off, 0.9), 3.0)
}

func TestAgainstTheLightOnTheShots(t *testing.T) {
	var off []float64
	for _, s := range shots.In(t, "testdata/shots/", "bare light") {
		l, err := ByBareLight(s.Picture, shots.Disc(s.Bare.Center, s.Bare.Radius), colour.Light(s.Light))
		require.NoError(t, err)
		for _, r := range s.Regions {
			got, err := Sample(s.Picture, shots.Disc(r.Center, r.Radius), l)
			require.NoError(t, err)
			e := colour.DeltaE00(shots.Lab(r.Lab), got.Lab)
			t.Logf(
				"%s %-8s truth %v got %.1f %.1f %.1f: off %.2f, said %.1f %s", s.ID, r.Name, r.Lab, got.Lab.L,
				got.Lab.A, got.Lab.B,
				e, got.Error, got.Warning,
			)
			if r.MM < 5 {
				off = append(off, e)
			}
		}
	}
	assert.Less(t, shots.Quantile(off, 0.5), 1.5)
}
