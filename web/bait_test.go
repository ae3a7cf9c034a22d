package web_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestABaitOfTwoCups(t *testing.T) {
	s := serve(t, true)
	shapes := get[[]struct {
		Key                              string
		VolumeML, ThinnestMM, ThickestMM float64
	}](s, "GET", "/baits", nil)
	require.GreaterOrEqual(t, len(shapes), 9)
	for _, shape := range shapes {
		assert.LessOrEqual(t, shape.ThinnestMM, shape.ThickestMM, shape.Key)
	}
	back, belly := get[bench](s, "POST", "/bench", anything{"recipe": "wave-back"}), get[bench](s, "POST", "/bench", anything{"recipe": "gull-belly"})
	type inHand struct {
		Shape             struct{ VolumeML float64 }
		Side, Back        struct{ PNG string }
		FirstML, SecondML float64
		Apart, Through    *struct{ DeltaE00 float64 }
	}
	one := get[inHand](s, "GET", "/bait/"+back.UID, nil)
	assert.InDelta(t, one.Shape.VolumeML, one.FirstML, 1e-9)
	assert.Nil(t, one.Apart)
	two := get[inHand](s, "GET", "/bait/"+back.UID+"?kind=laminate&second="+belly.UID+"&boundary=0.4&blur=1", nil)
	assert.InDelta(t, two.Shape.VolumeML, two.FirstML+two.SecondML, 1e-9, "the parts fill the bait")
	assert.Less(t, two.FirstML, two.SecondML, "a high boundary leaves the back little")
	require.NotNil(t, two.Apart)
	assert.Greater(t, two.Apart.DeltaE00, 20.0)
	assert.NotEqual(t, one.Side.PNG, two.Side.PNG)
	core := get[inHand](s, "GET", "/bait/"+back.UID+"?kind=core&bait=stick&second="+belly.UID+"&core=0.6", nil)
	assert.NotEqual(t, two.Side.PNG, core.Side.PNG)

	png := s.ask("GET", "/api/v1/bait/"+back.UID+"/picture?bait=toad&light=A", nil)
	assert.Equal(t, "image/png", png.Header().Get("Content-Type"))
	assert.Contains(t, png.Header().Get("Content-Disposition"), "back-of-the-wave.png")
	assert.Contains(t, png.Body.String(), "Title\x00Back of the wave")
	assert.Contains(t, png.Body.String(), "warm lamp")

	for query, says := range map[string]string{
		"?kind=laminate": "Choose the cup for the other colour",
		"?bait=spoon":    "no bait is called",
		"?kind=core&core=0.01&second=" + belly.UID: "narrower than its bait",
		"?kind=swirl": "expected value to be one of",
		"?kind=laminate&boundary=3&second=" + belly.UID: "expected number <=",
	} {
		status, _, got := s.refused("GET", "/bait/"+back.UID+query, nil)
		assert.Equal(t, 422, status, query)
		assert.Contains(t, got, says, query)
	}
	thin := get[struct{ Changes, Lost []string }](s, "GET", "/bench/"+belly.UID+"/in-another-bait?from=paddle-minnow&to=drop-shot-minnow", nil)
	assert.Contains(t, strings.Join(thin.Changes, " "), "Chalk white")
	s.refused("GET", "/bench/"+belly.UID+"/in-another-bait?from=paddle-minnow&to=spoon", nil)
	status, _, _ := s.refused("GET", "/bait/gone", nil)
	assert.Equal(t, 404, status)
}
