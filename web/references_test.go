package web_test

import (
	"bytes"
	"encoding/json"
	"image/jpeg"
	"math"
	"math/rand/v2"
	"os"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cloudburst/core/colour"
	"cloudburst/core/cup"
	"cloudburst/core/mix"
	"cloudburst/core/optics"
	"cloudburst/core/photo"
	"cloudburst/stand/camera"
	"cloudburst/web"
)

// A shot with white, grey and a card in it: its light is undone either way, what was pinned is read anew, and it can be
// left as it was.
func TestThePhotosLightIsUndone(t *testing.T) {
	t.Parallel()
	s := serve(t, true)
	shelf, err := s.shop.Shelf(t.Context())
	require.NoError(t, err)
	var mixes []*mix.Mix
	for _, uid := range []string{"wet-rope", "gull-belly"} {
		r, err := s.shop.Recipe(t.Context(), uid)
		require.NoError(t, err)
		m, err := mix.Stir(&r.Cup, shelf)
		require.NoError(t, err)
		mixes = append(mixes, m)
	}
	img, spots := camera.Studio{
		Back: mixes[0], Belly: mixes[1], Light: colour.D50, Paper: 0.88, White: true, Grey: true, Card: true,
		Balance: camera.DaylightBalance,
		EV:      -0.3, Tone: 0.1, Veil: 0.005, Vignette: 0.12, Noise: 1, Seed: rand.Uint64N(50),
	}.Shoot()
	var raw bytes.Buffer
	require.NoError(t, jpeg.Encode(&raw, img, nil))
	photo := get[struct{ UID string }](s, "POST", "/photos", raw.Bytes())
	type card struct {
		UID   string
		Light *struct {
			Kind     string
			Residual float64
		}
		Pins []struct {
			Reading struct {
				Lab   colour.Lab
				Error float64
				Unlit bool
			}
		}
	}
	ref := get[card](s, "POST", "/references", anything{"name": "Shot", "photo": photo.UID})
	path := "/references/" + ref.UID
	pin := anything{
		"name": "Back", "disc": anything{"x": spots[0].X, "y": spots[0].Y, "radius": spots[0].Radius},
		"thicknessMM": spots[0].MM, "ground": "white",
	}
	ref = get[card](s, "POST", path+"/pins", pin)
	assert.True(t, ref.Pins[0].Reading.Unlit)
	assert.Zero(t, ref.Pins[0].Reading.Error, "nothing is claimed")
	assert.Equal(t, 404, s.ask("GET", "/api/v1"+path+"/after", nil).Code)
	disc := func(x, y, r float64) anything { return anything{"x": x, "y": y, "radius": r} }
	white, grey := camera.WhiteThing(), camera.GreyThing()
	corners := [][2]float64{}
	for _, c := range camera.CardCorners() {
		corners = append(corners, c)
	}
	for _, light := range []anything{
		{
			"kind": "white-grey", "white": disc(white.X, white.Y, 30), "grey": disc(grey.X, grey.Y, 30),
			"whitePct": 100 * camera.WhiteSquare, "greyPct": 100 * camera.GreySquare, "lamp": "D50",
		},
		{"kind": "card", "corners": corners},
	} {
		ref = get[card](s, "POST", path+"/light", light)
		require.NotNil(t, ref.Light)
		assert.Equal(t, light["kind"], ref.Light.Kind)
		got := ref.Pins[0].Reading
		assert.False(t, got.Unlit)
		assert.Less(t, colour.DeltaE00(spots[0].Lab, got.Lab), 2*got.Error, "%v", light["kind"])
		after := s.ask("GET", "/api/v1"+path+"/after", nil)
		_, err := jpeg.Decode(after.Body)
		assert.NoError(t, err)
	}
	csv, err := os.ReadFile("../core/photo/testdata/shots/card24.csv")
	require.NoError(t, err)
	for says, light := range map[string]anything{
		"outside the picture": {"kind": "white-grey", "white": disc(-4, 3, 9), "grey": disc(grey.X, grey.Y, 9)},
		"plainly darker": {
			"kind": "white-grey", "white": disc(white.X, white.Y, 9), "grey": disc(grey.X, grey.Y, 9), "greyPct": 95,
		},
		"up to 100 %": {
			"kind": "white-grey", "white": disc(white.X, white.Y, 9), "grey": disc(grey.X, grey.Y, 9), "greyPct": 300,
		},
		"all four corners":       {"kind": "card", "corners": corners[:2]},
		"do not look like those": {"kind": "card", "corners": corners, "chart": string(csv)},
		"one after the other": {
			"kind": "card", "corners": [][2]float64{corners[1], corners[0], corners[3], corners[2]},
		},
		"can't be read":    {"kind": "card", "corners": corners, "chart": "what"},
		"this is no light": {"kind": "bare", "bare": disc(spots[0].X, spots[0].Y, 9)},
	} {
		status, _, said := s.refused("POST", path+"/light", light)
		assert.Equal(t, 422, status, says)
		assert.Contains(t, said, says)
	}
	assert.Equal(t, "card", get[card](s, "GET", path, nil).Light.Kind, "what was refused changed nothing")
	assert.Nil(t, get[card](s, "POST", path+"/light", anything{"kind": "none"}).Light)
}

// What differs on purpose stays out of the bag's spread; how old the plastic was is kept with the pin.
func TestWhatIsMineOnPurposeIsNotScored(t *testing.T) {
	t.Parallel()
	s := serve(t, true)
	type card struct {
		UID  string
		Pins []struct {
			UID, State string
			Mine       bool
		}
		Bag *struct{ Parts []struct{ Samples int } }
	}
	ref := list[card](s, "/references")[0]
	path := "/references/" + ref.UID + "/pins"
	before := len(ref.Pins)
	for i := range 3 {
		ref = get[card](s, "POST", path, anything{
			"name": "Vein", "disc": anything{"x": 60, "y": 60, "radius": 8}, "thicknessMM": 3, "ground": "white", "sample": i +
				1,
			"state": []string{"hot", "fresh", "rested"}[i],
		})
	}
	require.Len(t, ref.Pins, before+3)
	for i, state := range []string{"hot", "fresh", "rested"} {
		assert.Equal(t, state, ref.Pins[before+i].State)
	}
	require.Len(t, ref.Bag.Parts, 1)
	assert.Equal(t, 3, ref.Bag.Parts[0].Samples)
	mine := path + "/" + ref.Pins[before].UID + "/mine"
	ref = get[card](s, "POST", mine, anything{"mine": true})
	assert.True(t, ref.Pins[before].Mine)
	assert.Equal(t, 2, ref.Bag.Parts[0].Samples)
	assert.Equal(t, 3, get[card](s, "POST", mine, anything{"mine": false}).Bag.Parts[0].Samples)
	for _, g := range optics.Grounds() { // each that the screen offers
		get[card](
			s, "POST", path,
			anything{"name": "Fin", "disc": anything{"x": 60, "y": 60, "radius": 8}, "thicknessMM": 2, "ground": g},
		)
	}
	status, _, _ := s.refused("POST", path, anything{
		"name": "Vein", "disc": anything{"x": 60, "y": 60, "radius": 8}, "thicknessMM": 3, "ground": "white",
		"state": "boiling",
	})
	assert.Equal(t, 422, status)
}

// The spread of a bag is the line below which a difference no longer matters, wherever one of its pins is the target;
// and the cup is looked at as old as the plastic was.
func TestTheBagsSpreadIsGoodEnough(t *testing.T) {
	t.Parallel()
	s := serve(t, true)
	type card struct {
		UID  string
		Pins []struct{ Target cup.Target }
		Bag  *struct {
			Parts []struct{ DeltaE00 float64 }
		}
	}
	ref := get[card](s, "POST", "/references", anything{"name": "A bag", "photo": ""})
	for i, l := range []float64{40, 41, 43, 44, 46} {
		ref = get[card](s, "POST", "/references/"+ref.UID+"/readings", anything{
			"name": "Back", "thicknessMM": 7, "ground": "dark", "sample": i +
				1, "state": "fresh", "lab": anything{"L": l, "a": -8, "b": 22},
		})
	}
	good := ref.Bag.Parts[0].DeltaE00
	require.Greater(t, good, 0.5)
	target := ref.Pins[2].Target
	assert.InDelta(t, good, target.GoodEnough, 1e-9)
	bench := get[struct {
		UID  string
		Head int
	}](s, "POST", "/cups", anything{})
	aimed := func(target cup.Target) (look struct {
		Look struct {
			State   cup.State
			Ground  string
			Enough  string
			Swatch  mix.Swatch
			Against *colour.Difference
		}
		Head int
	},
	) {
		t.Helper()
		raw := s.ask("POST", "/api/v1/cups/"+bench.UID+"/steps", anything{
			"seen": bench.Head, "steps": []any{anything{"kind": "target", "target": target}},
		})
		require.Equal(t, 200, raw.Code, raw.Body.String())
		require.NoError(t, json.Unmarshal(raw.Body.Bytes(), &look))
		bench.Head = look.Head
		return look
	}
	look := aimed(target).Look
	assert.Equal(t, cup.Fresh, look.State)
	assert.Equal(t, "dark", look.Ground)
	assert.Empty(t, look.Enough, "clear plastisol is not that back")
	target.Lab = look.Swatch.Lab
	target.Lab.L += good / 2
	assert.Contains(t, aimed(target).Look.Enough, "Good enough: the baits of its own bag differ")
	target.GoodEnough, target.Error = 0, 4
	assert.Contains(t, aimed(target).Look.Enough, "Nearer than the reading is sure")
	target.Error = 0
	assert.Empty(t, aimed(target).Look.Enough)
}

// A reference that nobody photographed: an instrument's Lab, its file, words, and a point of a cup's wedge.
func TestAReferenceIsTold(t *testing.T) {
	t.Parallel()
	s := serve(t, true)
	type reading struct {
		Lab   colour.Lab
		Error float64
		From  string
	}
	type card struct {
		UID   string
		Photo *struct{ UID string }
		Pins  []struct {
			Name        string
			ThicknessMM float64
			Reading     reading
			Target      struct{ Lab colour.Lab }
		}
	}
	ref := get[card](s, "POST", "/references", anything{"name": "The old one", "photo": ""})
	assert.Nil(t, ref.Photo)
	path := "/references/" + ref.UID
	told := func(more anything) anything {
		all := anything{"name": "Back", "thicknessMM": 6, "ground": "white"}
		for k, v := range more {
			all[k] = v
		}
		return all
	}
	ref = get[card](s, "POST", path+"/readings", told(anything{"lab": anything{"L": 41.5, "a": -6, "b": 30}}))
	assert.Equal(t, reading{colour.Lab{L: 41.5, A: -6, B: 30}, 1, "typed"}, ref.Pins[0].Reading)
	assert.Equal(t, ref.Pins[0].Reading.Lab, ref.Pins[0].Target.Lab)
	ref = get[card](s, "POST", path+"/readings", told(anything{"words": "dark dull olive"}))
	assert.Equal(t, "words", ref.Pins[1].Reading.From)
	assert.GreaterOrEqual(t, ref.Pins[1].Reading.Error, 8.0, "words are no measurement")
	spectral, err := os.ReadFile("../core/photo/testdata/shots/card24_spectral.cgats.txt")
	require.NoError(t, err)
	plain, err := os.ReadFile("../core/photo/testdata/shots/card24_D65.cgats.txt")
	require.NoError(t, err)
	ref = get[card](s, "POST", path+"/readings", told(anything{"file": string(spectral), "name": ""}))
	require.Len(t, ref.Pins, 26, "every line is a reading")
	ref = get[card](s, "POST", path+"/readings", told(anything{"file": string(plain), "name": ""}))
	require.Len(t, ref.Pins, 50)
	for range 2 {
		ref = get[card](s, "POST", path+"/readings", told(anything{"file": string(plain), "name": ""}))
	}
	_, _, said := s.refused("POST", path+"/readings", told(anything{"file": string(plain), "name": ""}))
	assert.Contains(t, said, "no room for more")
	for i := range 24 {
		one, other := ref.Pins[2+i], ref.Pins[26+i]
		assert.Equal(t, "spectrum", one.Reading.From)
		assert.Equal(t, one.Name, other.Name)
		assert.Less(
			t, colour.DeltaE00(
				one.Reading.Lab, other.Reading.Lab,
			), 0.3, "%s: the same patch, as spectrum and as Lab", one.Name,
		)
	}
	for says, wrong := range map[string]anything{
		"is no colour word":  {"words": "grizzled olive"},
		"type its Lab":       {},
		"can't be read":      {"file": "hello"},
		"a thickness from":   {"words": "olive", "thicknessMM": 0},
		"a name":             {"words": "olive", "name": " "},
		"up to 200 is taken": {"lab": anything{"L": 900, "a": 0, "b": 0}},
	} {
		status, _, said := s.refused("POST", path+"/readings", told(wrong))
		assert.Equal(t, 422, status, said)
		assert.Contains(t, said, says)
	}
	for q, body := range map[string]anything{
		"/sample": {"x": 5, "y": 5, "radius": 4}, "/flake": {"x0": 0, "y0": 0, "x1": 90, "y1": 90},
	} {
		status, _, said := s.refused("POST", path+q, body)
		assert.Equal(t, 422, status)
		assert.Contains(t, said, "has no photo")
	}
	require.Len(
		t, get[card](s, "GET", path, nil).Pins, 98,
		"what was refused changed nothing, and of a file that has no room nothing is taken",
	)

	cup := get[struct{ Cup string }](s, "GET", "/cups/latest", nil).Cup
	look := get[struct {
		Look struct{ Swatch struct{ Lab colour.Lab } }
	}](s, "GET", "/cups/"+cup+"?thickness=3&ground=dark", nil).Look.Swatch.Lab
	kept := get[card](s, "POST", "/cups/"+cup+"/reference?thickness=3&ground=dark", anything{"name": "That point"})
	assert.Equal(t, reading{look, 0, "cup"}, kept.Pins[0].Reading)
	assert.Equal(t, 3.0, kept.Pins[0].ThicknessMM)
}

// A painted area is kept with its stroke and read anew as one; a thickness is read off a mold's shape.
func TestPaintedAndMeasuredOffAMold(t *testing.T) {
	t.Parallel()
	s := serve(t, true)
	type card struct {
		UID  string
		Pins []struct {
			Disc    photo.Disc
			Reading photo.Reading
		}
	}
	ref := list[card](s, "/references")[0]
	path := "/references/" + ref.UID
	painted := photo.Disc{X: 360, Y: 345, Radius: 9, Stroke: [][2]float64{{370, 345}, {380, 345}, {390, 346}}}
	read := get[photo.Reading](s, "POST", path+"/sample", painted)
	now := get[card](
		s, "POST", path+"/pins", anything{"name": "Vein", "disc": painted, "thicknessMM": 9, "ground": "white"},
	)
	got := now.Pins[len(now.Pins)-1]
	assert.Equal(t, painted, got.Disc)
	assert.Equal(t, read.Lab, got.Reading.Lab)
	painted.Stroke = append(painted.Stroke, [2]float64{9000, 5})
	status, _, says := s.refused("POST", path+"/sample", painted)
	assert.Equal(t, 422, status)
	assert.Contains(t, says, "outside the picture")

	mm := get[struct{ ThicknessMM float64 }](
		s, "GET", path+"/thickness?mold=paddle-minnow&nose=130&nose=375&tail=1066&tail=375&at=430&at=375", nil,
	).ThicknessMM
	assert.InDelta(t, 12, mm, 2, "the body, before its middle")
	_, _, says = s.refused(
		"GET", path+"/thickness?mold=paddle-minnow&nose=130&nose=375&tail=1066&tail=375&at=430&at=20", nil,
	)
	assert.Contains(t, says, "does not reach there")
	status, _, _ = s.refused(
		"GET", path+"/thickness?mold=nothing&nose=130&nose=375&tail=1066&tail=375&at=430&at=20", nil,
	)
	assert.Less(t, status, 500)
}

// Two pins of the demo's goby: a body and its paddle.
func TestTintedOrClearIsAsked(t *testing.T) {
	t.Parallel()
	s := serve(t, true)
	refs := list[struct {
		UID  string
		Pins []struct{ UID, Name string }
	}](s, "/references")
	pins := refs[0].Pins
	path := "/references/" + refs[0].UID + "/tint?one=" + pins[0].UID + "&other="
	v := get[struct{ Answer, Says, Next string }](s, "GET", path+pins[2].UID, nil)
	assert.Contains(t, []string{"tinted", "cannot tell"}, v.Answer, v.Says)
	assert.NotEmpty(t, v.Says)
	same := get[struct{ Answer, Next string }](s, "GET", path+pins[1].UID, nil)
	assert.Equal(t, "cannot tell", same.Answer)
	assert.Contains(t, same.Next, "nothing behind")
	status, _, says := s.refused("GET", path+"gone", nil)
	assert.Equal(t, 422, status)
	assert.Contains(t, says, "choose two of the pins")
	get[anything](s, "POST", "/references/"+refs[0].UID+"/light", anything{"kind": "none"})
	status, _, says = s.refused("GET", path+pins[2].UID, nil)
	assert.Equal(t, 422, status)
	assert.Contains(t, says, "not undone")
}

func TestFlakeIsCountedToScale(t *testing.T) {
	t.Parallel()
	s := serve(t, false)
	raw, err := os.ReadFile("../core/photo/testdata/shots/p08.jpg")
	require.NoError(t, err)
	photo := get[struct{ UID string }](s, "POST", "/photos", raw)
	ref := get[struct {
		UID     string
		PxPerMM float64
	}](s, "POST", "/references", anything{"name": "Close", "photo": photo.UID})
	path := "/references/" + ref.UID
	region := anything{"x0": 1104, "y0": 576, "x1": 96, "y1": 90}
	status, _, says := s.refused("POST", path+"/flake", region)
	assert.Equal(t, 422, status)
	assert.Contains(t, says, "two points")
	for length, want := range map[string]string{"0 mm": "out of reach", "far": "no number"} {
		_, at, says := s.refused(
			"POST", path+"/scale", anything{"a": [2]float64{96, 844}, "b": [2]float64{616, 844}, "length": length},
		)
		assert.Equal(t, "body.length", at)
		assert.Contains(t, says, want)
	}
	_, _, says = s.refused(
		"POST", path+"/scale", anything{"a": [2]float64{96, 844}, "b": [2]float64{99, 844}, "length": "13 mm"},
	)
	assert.Contains(t, says, "too close")
	got := get[struct{ PxPerMM float64 }](
		s, "POST", path+"/scale", anything{"a": [2]float64{96, 844}, "b": [2]float64{616, 844}, "length": "13 mm"},
	)
	assert.InDelta(t, 40, got.PxPerMM, 0.01)
	_, _, says = s.refused("POST", path+"/flake/pieces", anything{"x": 500, "y": 300, "class": 0})
	assert.Contains(t, says, "count the flake first")
	type counted struct {
		Flake *struct {
			Classes []struct {
				SizeIN, PerCM2 float64
				Count          int
			}
			Pieces []struct{ X, Y float64 }
		}
	}
	found := get[counted](s, "POST", path+"/flake", region).Flake
	require.Len(t, found.Classes, 1)
	assert.InDelta(t, 0.015, found.Classes[0].SizeIN, 0.001)
	assert.InEpsilon(t, 103.2, found.Classes[0].PerCM2, 0.15)

	// By hand: one that is none taken out, one that was missed put in.
	// nothing else lies where it was
	first := found.Pieces[slices.IndexFunc(found.Pieces, func(p struct{ X, Y float64 }) bool {
		near := 0
		for _, q := range found.Pieces {
			if math.Hypot(p.X-q.X, p.Y-q.Y) < 30 {
				near++
			}
		}
		return near == 1
	})]
	one := get[counted](s, "POST", path+"/flake/pieces", anything{"x": first.X, "y": first.Y, "class": 0}).Flake
	assert.Equal(t, found.Classes[0].Count-1, one.Classes[0].Count)
	assert.Less(t, one.Classes[0].PerCM2, found.Classes[0].PerCM2)
	back := get[counted](s, "POST", path+"/flake/pieces", anything{"x": first.X, "y": first.Y, "class": 0}).Flake
	assert.Equal(t, found.Classes, back.Classes)
	assert.Len(t, get[counted](s, "GET", path, nil).Flake.Pieces, len(found.Pieces), "it is kept")
	_, _, says = s.refused("POST", path+"/flake/pieces", anything{"x": 5, "y": 5, "class": 7})
	assert.Contains(t, says, "which of its kinds")

	spoons := path + "/spoons?thickness=9"
	_, _, says = s.refused("GET", spoons, nil)
	assert.Contains(t, says, "no plastisol on the shelf")
	get[anything](
		s, "POST", path+"/scale", anything{"a": [2]float64{96, 844}, "b": [2]float64{616, 844}, "length": "26 mm"},
	)
	assert.Nil(t, get[counted](s, "GET", path, nil).Flake, "counted to another scale")
	_, _, says = s.refused("GET", spoons, nil)
	assert.Contains(t, says, "count the flake first")
}

// Counted flake as spoons of a flake on the shelf: in clear plastisol, and more of it through a base that hides it.
func TestSpoonsOfCountedFlake(t *testing.T) {
	t.Parallel()
	s := serve(t, true)
	raw, err := os.ReadFile("../core/photo/testdata/shots/p08.jpg")
	require.NoError(t, err)
	photo := get[struct{ UID string }](s, "POST", "/photos", raw)
	path := "/references/" + get[struct{ UID string }](
		s, "POST", "/references", anything{"name": "Close", "photo": photo.UID},
	).UID
	get[anything](
		s, "POST", path+"/scale", anything{"a": [2]float64{96, 844}, "b": [2]float64{616, 844}, "length": "13 mm"},
	)
	get[anything](s, "POST", path+"/flake", anything{"x0": 96, "y0": 90, "x1": 1104, "y1": 576})
	type spoons struct {
		Name   string
		Near   bool
		PerCup struct{ Value float64 }
		Hidden bool
		Says   string
	}
	assert.Equal(
		t, "Quicklime flake", get[[]spoons](s, "GET", path+"/spoons?thickness=9", nil)[0].Name,
		"a white one has that colour, too",
	)
	clear := get[[]spoons](s, "GET", path+"/spoons?thickness=9&flakes=rime-015", nil)
	require.Len(t, clear, 1)
	assert.True(t, clear[0].Near)
	assert.InDelta(
		t, 0.049, clear[0].PerCup.Value, 0.012,
		"as many pieces of this thin a flake; a thicker one fills more spoons: %+v",
		clear,
	)
	assert.False(t, clear[0].Hidden)
	milky := get[[]spoons](s, "GET", path+"/spoons?thickness=9&recipe=gull-belly&flakes=rime-015", nil)
	assert.Greater(t, milky[0].PerCup.Value, 1.5*clear[0].PerCup.Value, "%+v", milky)
	// A match with that flake in it: which of the shelf, what else could stand for it, and a base around it.
	uid := strings.TrimPrefix(path, "/references/")
	got := get[web.MatchAnswer](s, "POST", "/match", anything{"volume": "1 cup", "most": 2, "flake": uid, "readings": []anything{{
		"name": "base", "lab": anything{"L": 88, "a": -1, "b": 3}, "thicknessMM": 9, "ground": "white", "between": true,
	}}})
	require.Len(t, got.Flake, 1)
	require.Len(t, got.Flake[0].Choices, 3)
	for _, c := range got.Candidates {
		assert.Equal(t, got.Flake[0].Choices[0].Material, c.Cup.Doses[0].Material)
	}
	bare := get[struct{ UID string }](s, "POST", "/references", anything{"name": "Told", "photo": ""})
	_, _, told := s.refused("POST", "/match", anything{"volume": "1 cup", "most": 2, "flake": bare.UID, "readings": []anything{{
		"name": "base", "lab": anything{"L": 88, "a": -1, "b": 3}, "thicknessMM": 9, "ground": "white",
	}}})
	assert.Contains(t, told, "no flake was counted")
	status, _, says := s.refused("GET", path+"/spoons?thickness=0", nil)
	assert.Equal(t, 422, status)
	assert.Contains(t, says, "a thickness from")
}
