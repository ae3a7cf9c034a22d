package match

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cloudburst/core/cup"
	"cloudburst/core/leftover"
	"cloudburst/core/mix"
	"cloudburst/testkit"
)

// What will do as a colour: its own rest as it is, the paler with something in it, the black one not; the tired after
// the fresh.
func TestWhatALeftoverIsGoodFor(t *testing.T) {
	shelf := testkit.Bench()
	olive := testkit.CupOf(t, "1 cup", cup.DripOf("clear-brown", 6), cup.DripOf("clear-green", 1))
	tub := func(c cup.Cup, heats float64) leftover.Tub {
		return leftover.OfCup(
			&c,
			leftover.History{
				HeatsMean: heats, HeatsMost: heats, DoseMean: heats * leftover.UsualHeatMin,
				DoseMost: heats * leftover.UsualHeatMin,
			},
			shelf,
		)
	}
	tubs := []leftover.Tub{
		tub(testkit.CupOf(t, "1 cup", cup.DripOf("carbon-black", 30)), 1),
		tub(testkit.CupOf(t, "1 cup", cup.DripOf("clear-brown", 3)), 1),
		tub(olive, 9),
		tub(olive, 1),
	}
	mixed := testkit.Stirred(t, olive)
	at := mix.UsualLook(&olive)
	target := &cup.Target{
		Name: "Olive", Lab: mixed.Colour(at), ThicknessMM: at.ThicknessMM, Ground: at.Ground, Exact: true,
	}
	var allowed []string
	for uid, m := range shelf {
		if m.Colourant != nil {
			allowed = append(allowed, uid)
		}
	}
	got, err := Reuse(
		t.Context(), tubs, target, func(c cup.Cup) (*Wish, error) { return &Wish{Cup: c, Allowed: allowed}, nil },
		shelf,
		testkit.Kit,
	)
	require.NoError(t, err)
	require.Len(t, got, 4)
	var order []int
	for _, r := range got {
		order = append(order, r.Place)
		assert.LessOrEqual(t, r.Then, r.Now+1e-9)
	}
	assert.Equal(t, []int{3, 1, 2, 0}, order, "the tired one after what is mended fresh")
	assert.Empty(t, got[0].Adds)
	assert.Contains(t, got[0].Says, "as it is")
	brown := got[1]
	assert.NotEmpty(t, brown.Adds)
	assert.LessOrEqual(t, len(brown.Adds), 2)
	assert.Less(t, brown.Then, 3.0)
	assert.Contains(t, got[3].Says, "can't become that")
}
