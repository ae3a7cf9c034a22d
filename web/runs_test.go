package web_test

import (
	"bytes"
	"net/http"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cloudburst/core/pour"
	"cloudburst/store"
	"cloudburst/web"
)

// pourOf is a pour of the demo's.
func (s *server) pourOf(name string) web.PourPage {
	for _, p := range list[web.PourItem](s, "/pours") {
		if p.Order.Name == name {
			return get[web.PourPage](s, "GET", "/pours/"+p.UID, nil)
		}
	}
	s.t.Fatalf("nothing is poured that is called %s", name)
	return web.PourPage{}
}

// follow does a run's steps one by one, each when it is due.
func (s *server) follow(uid string, most int) web.RunPage {
	run := get[web.RunPage](s, "GET", "/pours/"+uid+"/run", nil)
	for range most {
		if run.State.Over {
			return run
		}
		var step pour.RunStep
		for _, one := range run.State.Steps {
			if one.Key == run.State.Now[0] {
				step = one
			}
		}
		at := max(run.State.LastMS, step.DueMS) + int64(float64(step.Ticks)*pour.TickS*1000)
		run = get[web.RunPage](
			s, "POST", "/pours/"+uid+"/run/events", anything{"kind": "done", "step": step.Key, "atMS": at},
		)
	}
	return run
}

func TestARunFromThePlanToTheRest(t *testing.T) {
	t.Parallel()
	s := serve(t, true)
	p := s.pourOf("Harbour herring")
	require.NotNil(t, p.Planned)
	require.Nil(t, p.Planned.Impossible)
	require.Len(t, p.Planned.Cooks, 3)
	assert.Positive(t, p.Planned.Cost)
	stock := func(uid string) float64 {
		return get[web.MaterialPage](s, "GET", "/materials/"+uid, nil).Stock.Left
	}
	was := stock("chalk-white")

	run := get[web.RunPage](s, "POST", "/pours/"+p.UID+"/run", anything{"seen": p.Revision, "atMS": 1_764_000_000_000})
	assert.Equal(t, store.PourRunning, run.Run)
	require.Len(t, run.Cups, 3)
	status, _, says := s.refused("POST", "/pours/"+p.UID+"/run", anything{"seen": p.Revision})
	assert.Equal(t, http.StatusConflict, status)
	assert.Contains(t, says, "being poured already")
	status, _, _ = s.refused("PATCH", "/pours/"+p.UID, anything{"seen": p.Revision + 1, "warm": true})
	assert.Equal(t, http.StatusConflict, status)

	// Counted on the bench, it is in the run; what nobody counted goes in as planned; and taken back it is out again.
	white := run.Cups[1]
	get[anything](
		s, "POST", "/cups/"+white.UID+"/steps",
		anything{"seen": white.Head, "steps": []anything{{"kind": "drip", "material": "chalk-white", "drops": 17}}},
	)
	run = get[web.RunPage](
		s, "POST", "/pours/"+p.UID+"/run/events", anything{
			"kind": "done", "step": "B.colour", "atMS": 1_764_000_600_000,
		},
	)
	line := func(r web.RunPage, cook int, uid string) web.RunLine {
		for _, l := range r.Cups[cook].Lines {
			if l.Material == uid {
				return l
			}
		}
		return web.RunLine{}
	}
	assert.Equal(t, 17.0, line(run, 1, "chalk-white").In, "a hand counted them")
	grey := line(run, 1, "drizzle-grey")
	assert.Equal(t, grey.Whole, grey.In, "nobody counted")
	status, _, _ = s.refused("POST", "/pours/"+p.UID+"/run/back", anything{"seen": run.Last - 1})
	assert.Equal(t, http.StatusConflict, status)
	run = get[web.RunPage](s, "POST", "/pours/"+p.UID+"/run/back", anything{"seen": run.Last})
	assert.Zero(t, line(run, 1, "drizzle-grey").In)
	assert.Equal(t, 17.0, line(run, 1, "chalk-white").In, "what was counted stays")

	// Bad entries, in words, and the run goes on.
	for _, bad := range []anything{
		{"kind": "read", "cook": 0, "typed": "900F"},
		{"kind": "read", "cook": 0, "typed": "warm"},
		{"kind": "read", "cook": 40, "typed": "300F"},
		{"kind": "done", "step": "Z.colour"},
		{"kind": "note", "note": ""},
	} {
		status, _, says := s.refused("POST", "/pours/"+p.UID+"/run/events", bad)
		assert.Equal(t, http.StatusUnprocessableEntity, status, "%v", bad)
		assert.NotEmpty(t, says)
	}
	run = s.follow(p.UID, 400)
	require.True(t, run.State.Over)
	for i, u := range run.Cups {
		for _, l := range u.Lines {
			if l.Material != "chalk-white" {
				assert.InDelta(t, l.Whole, l.In, 1e-6, "cup %d, %s", i, l.Name)
			}
		}
	}
	for _, bad := range []anything{
		{"good": -1},
		{"good": 4000},
		{"good": 3, "spoiled": []anything{{"why": "Bubbles", "count": 0}}},
		{"good": 3, "left": []string{"much"}},
	} {
		status, _, _ := s.refused("POST", "/pours/"+p.UID+"/run/end", bad)
		assert.Equal(t, http.StatusUnprocessableEntity, status, "%v", bad)
	}
	status, _, says = s.refused("POST", "/pours/"+p.UID+"/run/end", anything{"good": 45})
	assert.Equal(t, http.StatusConflict, status)
	assert.Contains(t, says, "Meant so?")
	end := anything{
		"good": 35, "spoiled": []anything{{"why": "Bubbles", "count": 4}}, "left": []string{"50 ml", "20 ml", ""},
		"note": "Windy.",
	}
	run = get[web.RunPage](s, "POST", "/pours/"+p.UID+"/run/end", end)
	assert.Equal(t, store.PourDone, run.Run)
	assert.Equal(t, 5, run.Short)
	status, _, says = s.refused("POST", "/pours/"+p.UID+"/run/end", end)
	assert.Equal(t, http.StatusConflict, status, says)
	assert.InDelta(t, was-17*0.058, stock("chalk-white"), 1e-6, "by its own drop, as it was counted")
	used, err := s.shop.Used(t.Context(), "chalk-white")
	require.NoError(t, err)
	assert.InDelta(t, 17*0.058, used, 1e-6)

	rest := get[web.PourPage](s, "POST", "/pours/"+p.UID+"/rest", anything{})
	assert.Equal(t, 5, rest.Order.Molds[0].Count)
	assert.Equal(t, []float64{20, 0, 50}, rest.Order.LeftML, "by cup of the order")
	require.NotNil(t, rest.Planned)
	assert.Greater(t, rest.Planned.Cooks[0].LeftML, 10.0)

	pdf := s.ask("GET", "/api/v1/pours/"+p.UID+"/sheet", nil)
	assert.Equal(t, http.StatusOK, pdf.Code)
	assert.True(t, bytes.HasPrefix(pdf.Body.Bytes(), []byte("%PDF")))
	assert.Equal(
		t, http.StatusNotFound, s.ask("GET", "/api/v1/pours/"+p.UID+"/run/cooks/0/temperature", nil).Code,
		"no thermometer is connected",
	)
}

func TestPlansAreChangedInWords(t *testing.T) {
	t.Parallel()
	s := serve(t, true)
	for _, c := range []struct {
		body        anything
		field, says string
	}{
		{anything{"recipe": "wet-rope", "count": 0}, "body.molds.0.count", "how many baits"},
		{anything{"count": 4}, "body.bait", "what is to be poured"},
		{anything{"recipe": "nothing", "count": 4}, "", ""},
		{anything{"recipe": "wet-rope", "mold": "nothing", "count": 4}, "body.molds", "choose another"},
	} {
		status, field, says := s.refused("POST", "/pours", c.body)
		assert.GreaterOrEqual(t, status, 400)
		assert.Equal(t, c.field, field)
		assert.Contains(t, says, c.says)
	}
	p := get[web.PourPage](s, "POST", "/pours", anything{"recipe": "wet-rope", "mold": "lagoon-shad", "count": 12})
	assert.Contains(t, p.Order.Name, "rope")
	was := p.Planned.Timeline.Ticks
	change := func(body anything) web.PourPage {
		body["seen"] = p.Revision
		p = get[web.PourPage](s, "PATCH", "/pours/"+p.UID, body)
		return p
	}
	change(anything{"later": []anything{{"step": "A.fuse", "tick": 120}}})
	assert.Greater(t, p.Planned.Timeline.Ticks, was)
	change(anything{"unmove": true})
	assert.Equal(t, was, p.Planned.Timeline.Ticks)
	change(anything{"molds": []anything{
		{"mold": "lagoon-shad", "count": 12, "copies": 3}, {"mold": "perch-fin", "count": 16, "copies": 1},
	}})
	assert.Equal(t, 28, p.Planned.Made)
	change(anything{"packOf": 4, "sparePercent": 10, "warm": true, "degas": "hot", "whole": true, "colourRaw": true})
	assert.Positive(t, p.Planned.Packs)
	change(anything{"again": true})
	for _, bad := range []anything{
		{"cup": 0, "pourC": "900F"},
		{"cup": 0, "pourC": "hot"},
		{"cup": 5, "pourC": "330F"},
		{"sparePercent": -4},
		{"packOf": -1},
	} {
		bad["seen"] = p.Revision
		status, _, says := s.refused("PATCH", "/pours/"+p.UID, bad)
		assert.Equal(t, http.StatusUnprocessableEntity, status, says)
	}
	status, _, says := s.refused("PATCH", "/pours/"+p.UID, anything{"seen": p.Revision - 1, "warm": false})
	assert.Equal(t, http.StatusConflict, status)
	assert.Contains(t, says, "changed from another window")
	// A mold that is larger than any cup: said on the page, where it can be mended.
	e := get[web.EquipmentAnswer](s, "GET", "/equipment", nil)
	body := anything{
		"seen": e.Revision, "heaters": e.Heaters, "injectors": e.Injectors, "blocks": 1, "vacuum": false,
		"platePlaces": 0,
		"hands":       1, "cupML": 30, "leastML": 10, "stepML": 5, "roomC": 21, "plateC": 54, "shrink": 0.93, "topUp": 0.5,
		"bondC": 0, "cupLossML": 5, "lossRuns": 0,
	}
	get[web.EquipmentAnswer](s, "PUT", "/equipment", body)
	p = get[web.PourPage](s, "GET", "/pours/"+p.UID, nil)
	assert.Contains(t, p.Fault, "take a larger one")
	assert.Nil(t, p.Planned)
	body["seen"], body["hands"] = e.Revision+1, 0
	status, _, says = s.refused("PUT", "/equipment", body)
	assert.Equal(t, http.StatusUnprocessableEntity, status, says)
	body["hands"], body["cupML"] = 2, 480
	get[web.EquipmentAnswer](s, "PUT", "/equipment", body)
	found := get[web.EquipmentAnswer](s, "POST", "/equipment/heaters/0/trial", anything{
		"seen": e.Revision + 2, "volume": "240 ml", "start": "70F", "burstS": 95, "reading1": "262F", "afterS1": 10,
		"reading2": "240F", "afterS2": 180,
	})
	assert.Contains(t, found.Heaters[0].Found, "95 s")
	many := get[struct{ Molds []web.HowMany }](
		s, "POST", "/pours/how-many", anything{"recipe": "wet-rope", "volume": "1 cup"},
	)
	assert.Len(t, many.Molds, 5)
	for _, m := range many.Molds {
		assert.Positive(t, m.Baits, m.Name)
		assert.LessOrEqual(t, m.InML, 237.0)
	}
	status, _, says = s.refused("POST", "/pours/how-many", anything{"recipe": "wet-rope", "volume": "much"})
	assert.Equal(t, http.StatusUnprocessableEntity, status, says)
}

// What clashes is named, with ways out that can be taken as they are.
func TestAWayOutIsTaken(t *testing.T) {
	t.Parallel()
	s := serve(t, true)
	p := s.pourOf("Harbour herring")
	e := get[web.EquipmentAnswer](s, "GET", "/equipment", nil)
	e.BondC = 103.6 // 218 °F: in a cold mold the spots want a body of 367 °F
	body := anything{}
	for k, v := range map[string]any{
		"seen": e.Revision, "heaters": e.Heaters, "injectors": e.Injectors, "blocks": e.Blocks, "vacuum": e.Vacuum,
		"platePlaces": e.PlatePlaces, "hands": e.Hands, "cupML": e.CupML, "leastML": e.LeastML, "stepML": e.StepML,
		"roomC": e.RoomC, "plateC": e.PlateC, "shrink": e.Shrink, "topUp": e.TopUp, "bondC": e.BondC,
		"cupLossML": e.CupLossML, "lossRuns": e.LossRuns,
	} {
		body[k] = v
	}
	get[web.EquipmentAnswer](s, "PUT", "/equipment", body)
	p = get[web.PourPage](s, "GET", "/pours/"+p.UID, nil)
	require.NotNil(t, p.Planned.Impossible)
	assert.Contains(t, strings.Join(p.Planned.Impossible.Clash, " "), "spots")
	status, _, says := s.refused("POST", "/pours/"+p.UID+"/run", anything{"seen": p.Revision})
	assert.Equal(t, http.StatusUnprocessableEntity, status)
	assert.Contains(t, says, "ways out")
	ways := get[struct{ Ways []web.PourWay }](s, "POST", "/pours/"+p.UID+"/ways", anything{})
	require.GreaterOrEqual(t, len(ways.Ways), 2)
	pictures := map[string]bool{}
	for _, w := range ways.Ways {
		assert.NotEmpty(t, w.Picture.PNG)
		pictures[w.Picture.PNG] = true
	}
	assert.GreaterOrEqual(t, len(pictures), 2, "each with the bait as it would be")
	p = get[web.PourPage](s, "PATCH", "/pours/"+p.UID, anything{"seen": p.Revision, "order": ways.Ways[0].Order})
	assert.Nil(t, p.Planned.Impossible)
	assert.NotNil(t, p.Planned.Timeline)
}

// What changes a pour or a run counts once, however often it is sent.
func TestEveryChangeOfARunCountsOnce(t *testing.T) {
	t.Parallel()
	s := serve(t, true)
	twice := s.counting()
	p := s.pourOf("Harbour herring")
	before := len(list[anything](s, "/batches"))
	v := twice(
		"PATCH", "/pours/"+p.UID,
		anything{"seen": p.Revision, "molds": []anything{{"mold": "lagoon-shad", "count": 8, "copies": 4}}},
	)
	twice("POST", "/pours/"+p.UID+"/run", anything{"seen": v["revision"]})
	run := twice("POST", "/pours/"+p.UID+"/run/events", anything{"kind": "done", "step": "B.colour"})
	for _, cup := range run["cups"].([]any) {
		for _, l := range cup.(anything)["lines"].([]any) {
			assert.LessOrEqual(t, l.(anything)["in"], l.(anything)["whole"])
		}
	}
	twice("POST", "/pours/"+p.UID+"/run/back", anything{"seen": run["last"]})
	twice("POST", "/pours/"+p.UID+"/run/events", anything{"kind": "done", "step": "C.colour"})
	twice("POST", "/pours/"+p.UID+"/run/end", anything{"good": 5, "left": []string{"10 ml", "10 ml", "10 ml"}})
	assert.Len(t, list[anything](s, "/batches"), before+3, "a batch a colour, once")
	pours := len(list[anything](s, "/pours"))
	twice("POST", "/pours/"+p.UID+"/rest", anything{})
	assert.Len(t, list[anything](s, "/pours"), pours+1)
	e := get[web.EquipmentAnswer](s, "GET", "/equipment", nil)
	assert.Equal(t, 4, e.LossRuns, "three cooks, once, beside the demo's")
	twice(
		"POST", "/equipment/heaters/0/trial",
		anything{
			"seen": e.Revision, "volume": "240 ml", "start": "70F", "burstS": 95, "reading1": "262F", "afterS1": 10,
			"reading2": "240F", "afterS2": 180,
		},
	)
}
