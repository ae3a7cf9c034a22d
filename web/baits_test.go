package web_test

import (
	"fmt"
	"strings"
	"testing"

	"cloudburst/web"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

type baitPage struct {
	UID, Name        string
	Revision, Latest int
	MoldCard         struct{ VolumeML float64 }
	CupCards         []struct {
		UID, Name      string
		Gone           bool
		BaitML, ShotML float64
	}
	Parts []struct {
		Key, Name string
		ML        float64
		Shown     *struct {
			DeltaE00 float64
			Says     string
			Subtle   *struct{ Changes []string }
		}
		Fields []struct{ Key, Value string }
	}
	Main           struct{ PNG string }
	Views          []struct{ Name, PNG string }
	Apart, Through []struct {
		Says     string
		DeltaE00 float64
	}
	Room, Order []string
	Fresh       struct{ Says string }
	Flakes      []struct {
		Grade, Name string
		Own         bool
	}
}

// A bait can be laid out before there is a cup: what nobody chose yet is not compared.
func TestABaitWithoutACup(t *testing.T) {
	t.Parallel()
	s := serve(t, false)
	one := get[baitPage](s, "POST", "/baits", anything{"mold": "paddle-minnow"})
	two := get[baitPage](
		s, "PATCH", "/baits/"+one.UID, anything{"field": "way", "typed": "laminate", "seen": one.Revision},
	)
	assert.Empty(t, two.Apart)
	assert.Contains(t, two.Order[0], "belly, from a cup that is still to be chosen.")
}

func TestABaitOfSeveralCups(t *testing.T) {
	t.Parallel()
	s := serve(t, true)
	shapes := get[[]struct {
		Key                              string
		Own                              bool
		VolumeML, ThinnestMM, ThickestMM float64
	}](s, "GET", "/shapes", nil)
	require.GreaterOrEqual(t, len(shapes), 9)
	for _, shape := range shapes {
		assert.LessOrEqual(t, shape.ThinnestMM, shape.ThickestMM, shape.Key)
	}
	dark, back, belly := get[bench](s, "POST", "/cups", anything{"recipe": "everything-pot"}), get[bench](
		s, "POST", "/cups", anything{"recipe": "wave-back"},
	), get[bench](s, "POST", "/cups", anything{"recipe": "gull-belly"})
	one := get[baitPage](s, "POST", "/baits", anything{"cup": belly.UID})
	assert.Equal(t, "Gull belly", one.Name)
	assert.InDelta(t, one.MoldCard.VolumeML, one.CupCards[0].BaitML, 1e-9)
	set := func(field, typed string) baitPage {
		t.Helper()
		one = get[baitPage](
			s, "PATCH", "/baits/"+one.UID, anything{"field": field, "typed": typed, "seen": one.Revision},
		)
		return one
	}
	was := one.Main.PNG
	two := set("way", "laminate")
	require.Len(t, two.CupCards, 2)
	assert.Equal(t, back.UID, two.CupCards[1].UID, "the cup that was touched last is taken for the back")
	assert.InDelta(
		t, two.MoldCard.VolumeML, two.CupCards[0].BaitML+two.CupCards[1].BaitML, 1e-9, "the parts fill the bait",
	)
	assert.NotEqual(t, was, two.Main.PNG)
	require.Len(t, two.Apart, 1)
	assert.Greater(t, two.Apart[0].DeltaE00, 20.0)
	assert.Contains(t, two.Order[0], "Left injector")
	half := two.Parts[0].ML
	assert.Less(t, set("layers.0.top", "30 %").Parts[0].ML, half, "filled less high, the belly takes less")
	spots := set("way", "spots")
	require.Len(t, spots.CupCards, 3)
	assert.Equal(t, dark.UID, spots.CupCards[2].UID)
	shown := spots.Parts[2].Shown
	require.NotNil(t, shown)
	assert.NotEmpty(t, shown.Says)
	assert.Contains(t, spots.Fresh.Says, " by ")
	tilted := get[baitPage](s, "GET", "/baits/"+one.UID+"?view=0.94,0.34,0,0", nil)
	assert.NotEqual(t, spots.Main.PNG, tilted.Main.PNG)
	for _, view := range []string{
		"water=green&depth=2", "water=green&depth=2&from=below", "ground=hand", "ground=against&light=A", "cavity=2",
	} {
		assert.NotEqual(t, spots.Main.PNG, get[baitPage](s, "GET", "/baits/"+one.UID+"?"+view, nil).Main.PNG, view)
	}
	tried := get[baitPage](
		s, "PATCH", "/baits/"+one.UID+"?view=side", anything{
			"field": "layers.0.y", "typed": "4.5", "seen": 1, "try": true,
		},
	)
	assert.Equal(t, spots.Revision, tried.Revision, "a try is not kept")
	assert.NotEqual(t, spots.Main.PNG, tried.Main.PNG)

	status, _, says := s.refused(
		"PATCH", "/baits/"+one.UID, anything{"field": "layers.0.top", "typed": "50 %", "seen": 1},
	)
	assert.Equal(t, 409, status)
	assert.Contains(t, says, "another window")
	for field, typed := range map[string]string{
		"spots.0.across": "0 mm", "spots.0.deep": "40 mm", "layers.0.top": "120 %", "cups.0.pour": "hot",
		"mold":      "spoon",
		"core.wide": "3 mm", "way": "swirl",
	} {
		status, at, says := s.refused(
			"PATCH", "/baits/"+one.UID, anything{"field": field, "typed": typed, "seen": one.Revision},
		)
		assert.Equal(t, 422, status, field)
		assert.NotEmpty(t, says)
		assert.NotEmpty(t, at, field)
	}
	first := get[baitPage](s, "POST", "/baits/"+one.UID+"/back", anything{"revision": 1, "seen": one.Revision})
	assert.Len(t, first.Parts, 1, "an earlier version counts again")
	assert.Equal(t, one.Revision+1, first.Revision)
	one = first

	png := s.ask("GET", "/api/v1/baits/"+one.UID+"/picture?light=A", nil)
	assert.Equal(t, "image/png", png.Header().Get("Content-Type"))
	assert.Contains(t, png.Header().Get("Content-Disposition"), "gull-belly.png")
	assert.Contains(t, png.Body.String(), "Title\x00Gull belly")
	assert.Contains(t, png.Body.String(), "warm lamp")
	set("way", "bars")
	strip := s.ask("GET", "/api/v1/baits/"+one.UID+"/strip", nil)
	assert.Equal(t, "image/svg+xml", strip.Header().Get("Content-Type"))
	assert.Contains(t, strip.Body.String(), `mm" viewBox=`)
	assert.Equal(t, 4, strings.Count(strip.Body.String(), "<rect"))

	waters := get[struct{ Pictures []struct{ PNG, Name string } }](s, "GET", "/baits/"+one.UID+"/waters?depth=1", nil)
	require.Len(t, waters.Pictures, 4)
	assert.NotEqual(t, waters.Pictures[0].PNG, waters.Pictures[3].PNG)
	ages := get[web.BaitAges](s, "GET", "/baits/"+list[baitPage](s, "/baits")[0].UID+"/ages", nil)
	assert.Len(t, ages.Days, 3)
	assert.Len(t, ages.Heats, 3)
	assert.Contains(t, ages.Says[0], "no dye in it")
	for _, b := range list[baitPage](s, "/baits") {
		if b.Name == "Red throat, till Sunday" {
			ages = get[web.BaitAges](s, "GET", "/baits/"+b.UID+"/ages", nil)
			assert.Contains(t, ages.Says[0], "the back becomes")
			assert.Contains(t, ages.Days[2].Says, "back")
			assert.NotEqual(t, ages.Days[0].PNG, ages.Days[2].PNG)
		}
	}
	sheet := get[struct{ Pictures []struct{ PNG, Name string } }](s, "GET", "/cups/"+belly.UID+"/sheet", nil)
	assert.Len(t, sheet.Pictures, len(shapes))
	colours := get[struct{ Pictures []struct{ PNG, Name string } }](s, "GET", "/sheets/recipes?bait=toad", nil)
	assert.Greater(t, len(colours.Pictures), 8)

	assert.Equal(t, one.UID, list[baitPage](s, "/baits")[0].UID)
	s.ask("DELETE", "/api/v1/baits/"+one.UID, nil)
	assert.Equal(t, "deleted", get[struct{ Kept string }](s, "GET", "/baits/"+one.UID, nil).Kept)
	for _, b := range list[baitPage](s, "/baits") {
		assert.NotEqual(t, one.UID, b.UID, "deleted, and still in the list")
	}

	thin := get[struct{ Changes, Lost []string }](
		s, "GET", "/cups/"+belly.UID+"/in-another-bait?from=paddle-minnow&to=drop-shot-minnow", nil,
	)
	assert.Contains(t, strings.Join(thin.Changes, " "), "Chalk white")
	s.refused("GET", "/cups/"+belly.UID+"/in-another-bait?from=paddle-minnow&to=spoon", nil)
}

func TestAMoldOfOnesOwn(t *testing.T) {
	t.Parallel()
	s := serve(t, true)
	type page struct {
		UID      string
		Revision int
		Card     struct{ VolumeML, LengthMM, ThickestMM float64 }
		ShotML   float64
		Split    struct {
			Origin, Fitted string
			DriftMM        float64
		}
		Groups []struct {
			Fields []struct{ Key, Value, About string }
		}
		Views  []struct{ PNG string }
		Flakes []struct {
			Material, Grade, Words, Section string
			Own                             bool
		}
	}
	m := get[page](s, "POST", "/molds", anything{"name": "Reed cutter", "shape": "own"})
	set := func(field, typed string) {
		t.Helper()
		m = get[page](s, "PATCH", "/molds/"+m.UID, anything{"field": field, "typed": typed, "seen": m.Revision})
	}
	set("lengthMM", "4 in")
	assert.InDelta(t, 101.6, m.Card.LengthMM, 1e-9)
	set("cavities", "3")
	set("sprueML", "5 ml")
	set("baitML", "9 g")
	assert.InDelta(t, 9/1.03, m.Card.VolumeML, 1e-9)
	assert.InDelta(t, 3*9/1.03+5, m.ShotML, 1e-9)
	set("slot", "add")
	set("gateMM", "0.5 mm")
	blocks := 0
	for _, f := range m.Flakes {
		if f.Grade == "blocks" {
			blocks++
		}
	}
	assert.Positive(t, blocks)
	set("passes."+m.Flakes[0].Material, "fits")
	assert.True(t, m.Flakes[0].Own)
	for field, typed := range map[string]string{
		"lengthMM": "-3 mm", "widthMM": "0", "cavities": "none", "thinnestMM": "60 mm", "gateMM": "wide",
		"baitML":         "some",
		"slots.0.deepMM": "90 mm", "rodMM": "44 mm", "split.driftMM": "90 mm", "lies": "up",
	} {
		status, at, says := s.refused(
			"PATCH", "/molds/"+m.UID, anything{"field": field, "typed": typed, "seen": m.Revision},
		)
		assert.Equal(t, 422, status, field)
		assert.Equal(t, "body."+field, at, says)
	}
	var marks [][2]float64
	for k := range 8 {
		marks = append(marks, [2]float64{150 + 100*float64(k), 300 - 3*float64(k)})
	}
	m = get[page](
		s, "POST", "/molds/"+m.UID+"/fit",
		anything{
			"seen":  m.Revision,
			"baits": []anything{{"nose": [2]float64{100, 300}, "tail": [2]float64{1000, 300}, "marks": marks}},
		},
	)
	assert.Equal(t, "fitted", m.Split.Origin)
	assert.Positive(t, m.Split.DriftMM)
	assert.Contains(t, m.Split.Fitted, "8 places")
	status, _, says := s.refused(
		"POST", "/molds/"+m.UID+"/fit",
		anything{
			"seen":  m.Revision,
			"baits": []anything{{"nose": [2]float64{100, 300}, "tail": [2]float64{1000, 300}, "marks": marks[:2]}},
		},
	)
	assert.Equal(t, 422, status)
	assert.Contains(t, says, "five places")
	status, _, _ = s.refused("PATCH", "/molds/"+m.UID, anything{"field": "name", "typed": "Late", "seen": 1})
	assert.Equal(t, 409, status)
	cup := get[bench](s, "POST", "/cups", anything{"recipe": "gull-belly"})
	assert.NotEmpty(
		t,
		get[struct{ Bait struct{ PNG string } }](
			s, "GET", fmt.Sprintf("/cups/%s?bait=%s&baitView=belly", cup.UID, m.UID), nil,
		).Bait.PNG,
	)
}
