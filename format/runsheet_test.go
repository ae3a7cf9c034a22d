package format_test

import (
	"bytes"
	"regexp"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cloudburst/core/bait"
	"cloudburst/core/cup"
	"cloudburst/core/material"
	"cloudburst/core/measure"
	"cloudburst/core/pour"
	"cloudburst/format"
	"cloudburst/testkit"
)

func TestRunSheetHasAPageACup(t *testing.T) {
	m := bait.NewMold("Lagoon shad, žluťoučký", "paddle-minnow")
	m.Cavities, m.Split = 4, bait.TypicalSplit(false, 4)
	d := bait.NewDesign("x", "lagoon", "")
	require.NoError(t, d.Begin("laminate", &m))
	o := &pour.Order{
		Name: "Šedý hřbet – 12", Structure: d.Structure, Degas: pour.NoDegas,
		Molds: []pour.Asked{{Mold: "lagoon", Count: 12, Copies: 2}},
	}
	for i, name := range []string{"Belly", "Back"} {
		o.Cups = append(
			o.Cups,
			pour.Poured{
				Name: name, PourC: 168,
				Cup: testkit.CupOf(
					t, "1 cup", cup.DripOf("clear-brown", float64(8+60*i)), testkit.Tsp("flake-silver", 0.75),
				),
			},
		)
	}
	p, err := o.Figure(&pour.Bench{
		Equipment: pour.Usual(), Kit: measure.StandardKit(), Shelf: testkit.Bench(), Molds: pour.Molds{"lagoon": &m},
		Stock: map[string]material.Stock{},
	})
	require.NoError(t, err)
	require.Nil(t, p.Impossible)
	pdf, err := format.RunSheet(o, p)
	require.NoError(t, err)
	assert.True(t, bytes.HasPrefix(pdf, []byte("%PDF-")))
	pages := regexp.MustCompile(`/Type\s*/Page\b`).FindAll(pdf, -1)
	assert.Len(t, pages, len(p.Cooks))
	assert.Greater(t, len(pdf), 10_000, "its fonts come with it")
}
