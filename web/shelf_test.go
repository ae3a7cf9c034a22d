package web_test

import (
	"net/http"
	"testing"

	"cloudburst/store"
	"cloudburst/web"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

type bottle struct {
	UID, Name, Kind, Hue, Clarity, HeatWords, Dose, Step, Replaces string
	Revision                                                       int
	Retired, Runs, StockLow                                        bool
	Stock                                                          struct{ Left, Size float64 }
	Colourant                                                      *struct{ DropML struct{ Value float64 } }
}

func TestTheDemoShelfCoversTheTrade(t *testing.T) {
	t.Parallel()
	s := serve(t, true)
	list := get[[]bottle](s, "GET", "/materials", nil)
	assert.GreaterOrEqual(t, len(list), 70)
	kinds, hues := map[string]int{}, map[string]int{}
	for _, b := range list {
		kinds[b.Kind]++
		hues[b.Hue]++
		assert.NotEmpty(t, b.Dose, b.Name)
		assert.NotEmpty(t, b.HeatWords, b.Name)
	}
	for _, k := range []string{"plastisol", "colourant", "powder", "flake", "additive"} {
		assert.GreaterOrEqual(t, kinds[k], 3, k)
	}
	for _, h := range []string{"red", "orange", "yellow", "green", "blue", "violet", "black", "white"} {
		assert.Positive(t, hues[h], "%s: %v", h, hues)
	}
	for _, b := range list { // every page opens
		page := get[struct {
			bottle
			Properties []struct{ Key string }
			Wedge      struct{ PNG string }
			CloseUp    *struct{ PNG string }
			Faces      []any
			BestIn     []any
		}](s, "GET", "/materials/"+b.UID, nil)
		assert.NotEmpty(t, page.Properties, b.Name)
		assert.Equal(t, b.Kind == "flake", page.CloseUp != nil, b.Name)
		if b.Kind == "powder" {
			assert.Len(t, page.Faces, 4, b.Name)
		}
	}
}

func TestABottleIsAddedRefinedAndReplaced(t *testing.T) {
	t.Parallel()
	s := serve(t, true)
	b := get[bottle](s, "POST", "/materials", anything{"family": "flake-gold", "name": "Straw, tiny", "size": ".008"})
	assert.Contains(t, b.Step, "1/64")
	b = get[bottle](s, "POST", "/materials", anything{"family": "clear-red", "name": "Lingon"})
	put := func(key, typed string, more anything) bottle {
		body := anything{"seen": b.Revision, "key": key, "typed": typed}
		for k, v := range more {
			body[k] = v
		}
		return get[bottle](s, "PATCH", "/materials/"+b.UID, body)
	}
	b = put("drops", "2 ml", anything{"count": 40})
	assert.InDelta(t, 0.05, b.Colourant.DropML.Value, 1e-12)
	b = put("drops", "1 ml", anything{"count": 25})
	assert.InDelta(t, 0.04, b.Colourant.DropML.Value, 1e-12)
	b = put("name", "Lingonberry", nil)
	b = put("heat", "350F", anything{"origin": "survived", "count": 2})
	assert.Contains(t, b.HeatWords, "survived 2 heats at 350 °F")
	b = put("heat", "", anything{"origin": "none"})
	assert.Contains(t, b.HeatWords, "gives no heat limit")
	b = put("strength", "1.5", nil)
	b = put("usualTo", "40", anything{"origin": "maker"})
	for _, c := range []struct{ key, typed, says string }{
		{"dropML", "lots", "no figure"}, {"dropML", "9", "out of range"}, {"colour", "1", "no property"}, {
			"heat", "177", "which degrees",
		}, {"drops", "12 drops", "count drops into"}, {"name", " ", "1 to 80"}, {"strength", "0", "fiftieth"},
	} {
		status, field, says := s.refused(
			"PATCH", "/materials/"+b.UID, anything{"seen": b.Revision, "key": c.key, "typed": c.typed, "count": 3},
		)
		assert.Equal(t, 422, status, c.key)
		assert.Equal(t, "body."+c.key, field)
		assert.Contains(t, says, c.says)
	}
	status, _, says := s.refused("PATCH", "/materials/"+b.UID, anything{"seen": 1, "key": "name", "typed": "Other"})
	assert.Equal(t, 409, status)
	assert.Contains(t, says, "another window")

	b = get[bottle](
		s, "PUT", "/materials/"+b.UID+"/stock",
		anything{"seen": b.Revision, "left": "1 fl oz", "bought": "4 fl oz", "price": "9,00", "reorder": "2 fl oz"},
	)
	assert.True(t, b.StockLow)
	_, field, says := s.refused(
		"PUT", "/materials/"+b.UID+"/stock",
		anything{"seen": b.Revision, "left": "a splash", "bought": "", "price": "", "reorder": ""},
	)
	assert.Equal(t, "body.left", field)
	assert.Contains(t, says, "12 drops")
	next := get[bottle](s, "POST", "/materials/"+b.UID+"/next", anything{"seen": b.Revision})
	assert.Equal(t, b.UID, next.Replaces)
	assert.Equal(t, "Lingonberry", next.Name)
	assert.InDelta(t, 118.3, next.Stock.Left, 0.1)
	for _, m := range get[[]bottle](s, "GET", "/materials", nil) {
		assert.Equal(t, b.UID == m.UID, m.Retired, "listed, for the recipes that name it")
	}
	old := get[bottle](s, "GET", "/materials/"+b.UID, nil)
	assert.True(t, old.Retired)
	_, field, says = s.refused("POST", "/materials", anything{"family": "flake-gold", "name": "X", "size": ".40"})
	assert.Equal(t, "body.size", field)
	assert.Contains(t, says, "Did you mean .040")

	mix := get[bottle](
		s, "POST", "/materials/cuts",
		anything{
			"name": "Grey water", "clear": 20,
			"parts": []any{
				anything{"material": "peat-black", "share": 1}, anything{"material": "peat-cut", "share": 1},
			},
		},
	)
	assert.Equal(t, "colourant", mix.Kind)
	_, field, _ = s.refused("POST", "/materials/cuts", anything{"name": "Nothing", "clear": 20, "parts": []any{}})
	assert.Equal(t, "body.parts", field)

	two := get[struct {
		Words string
		Ratio float64
		One   struct{ Swatches []any }
	}](s, "GET", "/comparisons/materials?one=peat-black&other=drizzle-grey", nil)
	assert.InDelta(t, 10, two.Ratio, 2, "a tenth of the strength")
	assert.Len(t, two.One.Swatches, 5)
	s.refused("GET", "/comparisons/materials?one=peat-black&other=fine-salt", nil)
}

// An empty shelf is filled in one press, once.
func TestTheStarterRack(t *testing.T) {
	t.Parallel()
	s := serve(t, false)
	s.key = "the-starter-rack"
	for range 2 {
		assert.Equal(t, 204, s.ask("POST", "/api/v1/materials/starter", nil).Code, "sent again it is one")
	}
	s.key = ""
	assert.Len(t, get[[]anything](s, "GET", "/materials", nil), 19)
	get[bench](s, "POST", "/cups", anything{})
	_, _, says := s.refused("POST", "/materials/starter", nil)
	assert.Contains(t, says, "something on the shelf already")
}

func TestAKitOfOnesOwn(t *testing.T) {
	t.Parallel()
	s := serve(t, true)
	type kit struct {
		SpoonsTSP []float64
		Heaped    float64
		Named     []struct {
			Name string
			ML   float64
		}
	}
	k := get[kit](
		s, "POST", "/kit/measures",
		anything{"seen": 2, "name": "blade end", "material": "wet-slate-pearl", "grams": 0.3, "times": 10},
	)
	assert.Len(t, k.Named, 2)
	assert.InDelta(t, 0.1, k.Named[1].ML, 1e-9)
	_, field, says := s.refused(
		"POST", "/kit/measures",
		anything{"seen": 3, "name": "blade end", "material": "wet-slate-pearl", "grams": 0.3, "times": 10},
	)
	assert.Equal(t, "body.name", field)
	assert.Contains(t, says, "two measures")
	s.refused("PUT", "/kit", anything{"seen": 3, "spoonsTSP": []float64{0}, "heaped": 1.5, "named": []any{}})
	mine := anything{"seen": 3, "spoonsTSP": []float64{0.25, 0.125}, "heaped": 1.4, "named": []any{}}
	k = get[kit](s, "PUT", "/kit", mine)
	stale, _, says := s.refused("PUT", "/kit", mine)
	assert.Equal(t, 409, stale)
	assert.Contains(t, says, "another window")
	assert.Equal(t, 1.4, k.Heaped)
	one, two := get[struct{ Grams float64 }](
		s, "GET", "/materials/peat-black/weight", nil,
	), get[struct{ Grams float64 }](s, "GET", "/materials/peat-black/weight", nil)
	assert.Less(t, two.Grams, one.Grams)
}

func TestTheLiveCupOverHTTP(t *testing.T) {
	t.Parallel()
	s := serve(t, true)
	type state struct {
		UID  string
		Head int
		Cup  struct {
			Volume struct{ ML float64 }
			Doses  []struct {
				Material, Typed string
			}
		}
		OneMore []struct{ Material, Words, Says string }
		Flakes  []struct{ Words string }
		CloseUp *struct{ PNG string }
		Warmth  *struct{ Says string }
		Look    struct {
			Watch   []struct{ Kind, Says, Why string }
			InWater *struct{ DeltaE00 float64 }
		}
	}
	b := get[state](s, "POST", "/cups", anything{"recipe": "everything-pot"})
	assert.Len(t, b.OneMore, 11)
	assert.Len(t, b.Flakes, 3)
	require.NotNil(t, b.CloseUp)
	assert.NotEmpty(t, b.Look.Watch)
	under := get[state](
		s, "GET", "/cups/"+b.UID+"?water=stained&depth=2&distance=1&tilt=30&state=fresh&ground=hand&light=D50", nil,
	)
	require.NotNil(t, under.Look.InWater)
	step := func(step anything) state {
		t.Helper()
		b = get[state](s, "POST", "/cups/"+b.UID+"/steps", steps(b.Head, step))
		return b
	}
	step(anything{"kind": "heat", "typed": "350F", "atMS": 1})
	require.NotNil(t, b.Warmth)
	half := b.Cup.Volume.ML / 2
	step(anything{"kind": "pour", "typed": "half"})
	assert.InDelta(t, half, b.Cup.Volume.ML, 1e-6)
	before := len(list[struct{ UID string }](s, "/cups"))
	split := get[struct{ Other string }](s, "POST", "/cups/"+b.UID+"/split", anything{"seen": b.Head, "share": 0.5})
	cups := list[struct{ UID string }](s, "/cups")
	assert.Len(t, cups, before+1)
	b = get[state](s, "GET", "/cups/"+b.UID, nil)
	other := get[state](s, "GET", "/cups/"+split.Other, nil)
	assert.InDelta(t, b.Cup.Volume.ML, other.Cup.Volume.ML, 1e-6)
	b = get[state](s, "POST", "/cups/"+b.UID+"/merge", anything{"seen": b.Head, "other": split.Other})
	assert.InDelta(t, half, b.Cup.Volume.ML, 1e-6)

	// Asked back, then meant so.
	dose := anything{"kind": "dose", "material": "wet-slate-pearl", "typed": "1 oz"}
	slip := steps(b.Head, dose)
	status, field, says := s.refused("POST", "/cups/"+b.UID+"/steps", slip)
	assert.Equal(t, 409, status)
	assert.Equal(t, "body.typed", field)
	assert.Contains(t, says, "Meant so?")
	dose["sure"] = true
	b = get[state](s, "POST", "/cups/"+b.UID+"/steps", slip)

	tests := get[[]struct{ Key string }](s, "GET", "/cups/"+b.UID+"/tests", nil)
	assert.Len(t, tests, 7)
	log := get[struct{ Goes, Log []any }](s, "GET", "/cups/"+b.UID+"/log", nil)
	assert.Len(t, log.Log, 5)
	swap := get[struct {
		Cup     anything
		Changes []string
	}](s, "GET", "/cups/"+b.UID+"/swap?old=peat-black&new=drizzle-grey", nil)
	assert.NotEmpty(t, swap.Changes)
	step(anything{"kind": "swap", "cup": swap.Cup})
	s.refused("GET", "/cups/"+b.UID+"/swap?old=gone&new=drizzle-grey", nil)
	with := get[struct{ Changes []string }](s, "GET", "/cups/"+b.UID+"/with?material=bead-glass&typed=1%2F8+cup", nil)
	assert.NotEmpty(t, with.Changes)
	wish := get[struct{ Typed string }](s, "GET", "/cups/"+b.UID+"/wish?material=barley-035&wish=medium", nil)
	assert.Contains(t, wish.Typed, "tsp")
}

func TestRecipesAreFoundVersionedAndCompared(t *testing.T) {
	t.Parallel()
	s := serve(t, true)
	find := func(query string) []string {
		var names []string
		for _, r := range list[card](s, "/recipes?"+query) {
			names = append(names, r.Name)
		}
		return names
	}
	assert.Equal(t, []string{"Gull belly"}, find("find=belly+chalk"))
	assert.Contains(t, find("find=zander"), "Bog lantern", "by tag")
	assert.Contains(t, find("find=bladderwrack"), "Wet rope", "by ingredient")
	assert.Empty(t, find("find=nosuchthing"))
	assert.Equal(t, "Gull belly", find("near=%23e8e8e4")[0])
	assert.NotEqual(t, "Gull belly", find("near=%23c8a010")[0])

	fork := get[card](s, "POST", "/recipes/bog-lantern/fork", anything{"name": "Bog lantern, colder"})
	assert.NotEqual(t, "bog-lantern", fork.UID)
	about := get[struct {
		card
		Tags   []string
		OwnUse bool
		ForkOf string
	}](s, "PATCH", "/recipes/"+fork.UID, anything{"seen": 1, "name": "Colder lantern", "notes": "", "tags": []string{" winter ", ""}, "credit": "the neighbour", "ownUse": true})
	assert.Equal(t, []string{"winter"}, about.Tags)
	assert.Equal(t, "bog-lantern", about.ForkOf)
	status, _, _ := s.refused(
		"PATCH", "/recipes/"+fork.UID,
		anything{"seen": 1, "name": "Late", "notes": "", "tags": []string{}, "credit": "", "ownUse": false},
	)
	assert.Equal(t, 409, status)
	versions := get[[]struct {
		card
		Changed []string
		Note    string
	}](s, "GET", "/recipes/"+fork.UID+"/versions", nil)
	require.Len(t, versions, 2)
	assert.Contains(t, versions[1].Note, "from Bog lantern")
	beside := get[struct {
		Changed    []string
		Difference struct{ DeltaE00 float64 }
	}](s, "GET", "/comparisons/recipes?one=bog-lantern&other=wet-rope&thickness=8", nil)
	assert.NotEmpty(t, beside.Changed)
	assert.Greater(t, beside.Difference.DeltaE00, 2.0)
}

// What is bought, counted and weighed stands in the ledger, and what is wrong with it is said; nothing entered is lost.
func TestStockIsWrittenDown(t *testing.T) {
	t.Parallel()
	s := serve(t, true)
	at := "/materials/rowan-red"
	page := get[web.MaterialPage](s, "GET", at, nil)
	change := func(body anything) {
		body["seen"] = page.Revision
		get[anything](s, "POST", at+"/stock/changes", body)
		page = get[web.MaterialPage](s, "GET", at, nil)
	}
	was := page.Stock.Left
	change(anything{"kind": "bought", "typed": "4 fl oz", "price": "9,50"})
	assert.InDelta(t, was+118.294, page.Stock.Left, 0.01)
	assert.InDelta(t, 9.5, page.Stock.Price, 1e-9)
	assert.Equal(t, "7 fl oz", page.Stock.Typed, "in the unit that it was said in")
	change(anything{"kind": "weighed", "grossG": 80, "emptyG": 20})
	assert.InDelta(t, 60/page.Material.DensityGML(), page.Stock.Left, 1e-6)
	change(anything{"kind": "counted", "typed": "30 ml"})
	assert.InDelta(t, 30, page.Stock.Left, 1e-9)
	moves := get[struct {
		Unit  string
		Moves []store.StockMove
	}](s, "GET", at+"/stock/changes", nil)
	assert.Equal(t, "ml", moves.Unit)
	require.Len(t, moves.Moves, 3)
	sum := was
	for _, m := range moves.Moves {
		sum += m.Amount
	}
	assert.InDelta(t, 30, sum, 1e-6, "the ledger adds up")
	for _, bad := range []anything{
		{"kind": "counted", "typed": "-3 ml"}, {
			"kind": "bought", "typed": "4 fl oz", "price": "cheap",
		}, {"kind": "weighed", "grossG": 10, "emptyG": 20}, {"kind": "counted", "typed": ""},
	} {
		bad["seen"] = page.Revision
		status, field, says := s.refused("POST", at+"/stock/changes", bad)
		assert.Equal(t, http.StatusUnprocessableEntity, status, "%v", bad)
		assert.NotEmpty(t, field+says)
	}
	stale := anything{"seen": page.Revision - 1, "kind": "counted", "typed": "10 ml"}
	status, _, _ := s.refused("POST", at+"/stock/changes", stale)
	assert.Equal(t, http.StatusConflict, status)
	assert.InDelta(t, 30, get[web.MaterialPage](s, "GET", at, nil).Stock.Left, 1e-9)
}
