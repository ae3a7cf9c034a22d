package picture_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cloudburst/core/bait"
	"cloudburst/core/colour"
	"cloudburst/core/cup"
	"cloudburst/core/mix"
	"cloudburst/core/optics"
	. "cloudburst/core/picture"
	. "cloudburst/testkit"
)

// In the hand a powder turns its hue from where the skin looks at one to the rims, and goes out there; face-on it is
// what is predicted for the tilt, and in an overcast it hardly moves. Judged, it is even.
func TestAPowderRunsOverABait(t *testing.T) {
	powder := Bench()["shift-green-violet"]
	c := CupOf(t, "1 cup", cup.DripOf("carbon-black", 6), cup.Dose{Material: powder.UID, Amount: powder.Middling()})
	m, err := mix.Stir(&c, Bench())
	require.NoError(t, err)
	const r = 9.0
	plan := PlanBait(ball(t, r), bait.Side, 300, 300, false)
	at := mix.Condition{ThicknessMM: 8, Ground: optics.White, Light: colour.D50, State: cup.Rested}
	// right is the colour at a share of the ball's half width, to the right of its middle.
	right := func(judge bool, at mix.Condition, share float64) colour.Lab {
		p := single(plan, m)
		p.Judge = judge
		return p.Light(at)(150+int(share*r*plan.PxPerMM), 150).Lab()
	}
	middle, half, rim := right(false, at, 0), right(false, at, 0.5), right(false, at, 0.85)
	assert.Greater(t, colour.DeltaE00(middle, half), 8.0)
	assert.Greater(t, middle.L, half.L)
	assert.Greater(t, half.L, rim.L)
	assert.Less(t, colour.DeltaE00(right(true, at, 0.1), right(true, at, 0.5)), 2.0, "judged it is even")
	at.ThicknessMM = 2 * r
	assert.Less(t, colour.DeltaE00(m.Colour(at).Shown().Lab(), middle), 2.0, "face-on it is as predicted")
	overcast := at
	overcast.Light = colour.D65
	assert.Less(
		t, colour.DeltaE00(right(false, overcast, 0), right(false, overcast, 0.5)), colour.DeltaE00(middle, half)/1.5,
	)
	turned := at
	turned.TiltDeg = 40
	assert.Greater(t, colour.DeltaE00(right(false, turned, 0), middle), 8.0, "it runs off as the bait is tilted")
}
