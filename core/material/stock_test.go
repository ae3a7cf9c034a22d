package material_test

import (
	"strconv"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	. "cloudburst/core/material"
	"cloudburst/core/measure"
	"cloudburst/testkit"
)

// The stocks of the vectors: used by the bottle's own drop and the spoon's weight, bought, counted, weighed.
func TestStocksOfTheVectors(t *testing.T) {
	var file struct {
		Stock []struct {
			ID, Why string
			Shelf   map[string]struct {
				Amount float64
				Unit   string
				GML    float64 `json:"g_ml"`
				Bulk   float64 `json:"bulk_g_ml"`
				Drop   float64 `json:"drop_ml"`
			}
			Events []struct {
				Do, Item           string
				Amount, Drops, TSP float64
				Gross              float64 `json:"gross_g"`
				Empty              float64 `json:"empty_g"`
			}
			Expect struct {
				Change []any
				Left   map[string]float64
			}
		}
	}
	testkit.Read(t, "stock.json", &file)
	require.NotEmpty(t, file.Stock)
	families := map[string]string{"ml": "clear-green", "g": "salt-fine"}
	for _, c := range file.Stock {
		bottles, stocks := map[string]Material{}, map[string]Stock{}
		for name, b := range c.Shelf {
			f, ok := FindFamily(families[b.Unit])
			require.True(t, ok)
			m := f.New(name, name)
			switch {
			case b.Unit == "g" && b.Bulk > 0:
				m.Additive.BulkGML.Value = b.Bulk
			case b.Unit == "ml":
				if b.Drop > 0 {
					m.Colourant.DropML.Value = b.Drop
				}
				if b.GML > 0 {
					m.Colourant.DensityGML.Value = b.GML
				}
			}
			bottles[name] = m
			stocks[name] = Stock{Typed: strconv.FormatFloat(b.Amount, 'g', -1, 64) + " " + b.Unit, Left: b.Amount}
		}
		for i, e := range c.Events {
			m, s := bottles[e.Item], stocks[e.Item]
			uses := e.Amount
			for _, a := range []measure.Amount{measure.DropCount(e.Drops), {Value: e.TSP, Unit: measure.InTeaspoons}} {
				if a.Value == 0 {
					continue
				}
				ml, g, err := m.Take(a)
				require.NoError(t, err)
				if uses = g; m.Form() == measure.Liquid {
					uses = ml
				}
			}
			typed := strconv.FormatFloat(e.Amount, 'f', -1, 64) + " " + c.Shelf[e.Item].Unit
			by := 0.0
			var err error
			switch e.Do {
			case "use":
				was := s.Left
				s = m.Taken(s, uses)
				by = s.Left - was
			case "buy":
				s, by, err = m.Changed(s, Change{Kind: Bought, Typed: typed})
			case "count":
				s, by, err = m.Changed(s, Change{Kind: Counted, Typed: typed})
			case "weigh":
				s, by, err = m.Changed(s, Change{Kind: Weighed, GrossG: e.Gross, EmptyG: e.Empty})
			case "plan":
				want := c.Expect.Change[i].(map[string]any)
				assert.InDelta(t, want["needs"], uses, 1e-8, "%s: %s", c.ID, c.Why)
				assert.InDelta(t, want["short_by"], max(0, uses-s.Left), 1e-8, "%s: %s", c.ID, c.Why)
				continue
			default:
				t.Fatalf("%s: what is %s?", c.ID, e.Do)
			}
			require.NoError(t, err, c.ID)
			assert.InDelta(t, c.Expect.Change[i], by, 1e-7, "%s event %d: %s", c.ID, i, c.Why)
			stocks[e.Item] = s
		}
		for name, left := range c.Expect.Left {
			assert.InDelta(t, left, stocks[name].Left, 1e-6, "%s: %s, %s", c.ID, c.Why, name)
		}
	}
}

func TestStockIsSaidAsItWas(t *testing.T) {
	f, _ := FindFamily("clear-red")
	m := f.New("red", "Red")
	s := m.Taken(Stock{Typed: "2 fl oz", Left: 59.147}, 59.147/2)
	assert.Equal(t, "1 fl oz", s.Typed)
	assert.Equal(t, "", m.Taken(Stock{}, 5).Typed, "nobody counts it")
	assert.True(t, func() bool { s := m.Taken(s, 500); return s.Gone() }())
	s, by, err := m.Changed(Stock{Typed: "0 ml"}, Change{Kind: Bought, Typed: "4 fl oz"})
	require.NoError(t, err)
	assert.InDelta(t, 118.29, s.Left, 0.01)
	assert.InDelta(t, 118.29, by, 0.01)
	for _, bad := range []Change{
		{Kind: "else"},
		{Kind: Counted, Typed: "-3 ml"},
		{Kind: Bought, Typed: "much"},
		{Kind: Weighed, GrossG: 3, EmptyG: 9},
		{Kind: Weighed},
	} {
		_, _, err := m.Changed(s, bad)
		assert.Error(t, err, "%v", bad)
	}
	for typed, want := range map[string]float64{"9,50": 9.5, "€ 9.50": 9.5, "12": 12, "": 0} {
		v, err := ParsePrice(typed)
		require.NoError(t, err)
		assert.InDelta(t, want, v, 1e-12)
	}
	for _, bad := range []string{"-3", "cheap", "1.2.3"} {
		_, err := ParsePrice(bad)
		testkit.AssertFault(t, err, "price", "9,50")
	}
}
