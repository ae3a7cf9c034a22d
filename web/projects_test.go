package web_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cloudburst/core/project"
	"cloudburst/core/recipe"
	"cloudburst/web"
)

// The demo's herring: three tries at the back, two at the belly, each nearer, both inside what the net's own fish
// differ by.
func TestATrailEndsInsideTheLine(t *testing.T) {
	t.Parallel()
	s := serve(t, true)
	all := list[web.ProjectItem](s, "/projects")
	require.Len(t, all, 3)
	p := get[web.ProjectCard](s, "GET", "/projects/"+named(t, all, "Herring back and belly").UID, nil)
	require.Len(t, p.Trail, 2)
	back := p.Trail[0]
	require.Len(t, back.Tries, 3)
	assert.True(t, back.OfBag)
	assert.Equal(t, 2, back.Best)
	assert.True(t, back.Enough)
	for _, try := range back.Tries {
		assert.Equal(t, project.ByReading, try.By)
		assert.NotEmpty(t, try.Photo)
		assert.Positive(t, try.Price)
	}
	assert.Greater(t, back.Tries[0].DeltaE00, back.Tries[1].DeltaE00)
	assert.Contains(t, back.Tries[1].Changed, "Heather violet left out (was 1 drop)")
	assert.True(t, p.Trail[1].Enough)
	assert.Positive(t, p.SpentML)
	assert.NotEmpty(t, p.Teaches)
	next := get[project.Advice](s, "POST", "/projects/"+p.UID+"/next", anything{"part": "back"})
	assert.True(t, next.Enough)
	assert.Contains(t, next.Says, "inside the bag's own spread")
}

func named(t *testing.T, all []web.ProjectItem, name string) web.ProjectItem {
	for _, p := range all {
		if p.Name == name {
			return p
		}
	}
	t.Fatalf("no project is called %s", name)
	return web.ProjectItem{}
}

// From a reference to a project, its next step on the bench, recorded from there without typing anything again, and
// read.
func TestAProjectFromOpeningToTheBench(t *testing.T) {
	t.Parallel()
	s := serve(t, true)
	var ref string
	for _, r := range list[web.ReferenceCard](s, "/references") {
		if r.Name == "Perch of the reed edge" {
			ref = r.UID
		}
	}
	empty, err := s.shop.AddReference(t.Context(), "Empty", "")
	require.NoError(t, err)
	status, _, says := s.refused("POST", "/projects", anything{"name": "Nothing", "reference": empty.UID})
	assert.Equal(t, 422, status)
	assert.Contains(t, says, "pin a part of the reference first")
	p := get[web.ProjectCard](s, "POST", "/projects", anything{"name": "Mine", "reference": ref, "volume": "1 cup"})
	require.Len(t, p.Trail, 1)
	assert.Equal(t, -1, p.Trail[0].Best)
	assert.Len(t, p.Trail[0].Wanted, 2)

	next := get[project.Advice](s, "POST", "/projects/"+p.UID+"/next", anything{"part": "Flank"})
	assert.Contains(t, next.Says, "Nothing was poured yet")
	require.NotEmpty(t, next.Steps)
	made := get[struct{ Cup string }](
		s, "POST", "/projects/"+p.UID+"/bench", anything{"part": "Flank", "cup": next.Steps[0].Cup},
	).Cup
	bench := get[web.BenchState](s, "GET", "/cups/"+made, nil)
	assert.Equal(t, p.UID, bench.Cup.For)
	assert.Equal(t, "Flank", bench.Cup.Part)
	assert.NotNil(t, bench.Cup.Target)

	record := anything{
		"pouredOn": "2026-11-28", "verdict": "Good", "rested": "24 h", "project": p.UID, "part": "Flank",
		"mold": "paddle-minnow",
	}
	status, field, _ := s.refused(
		"POST", "/cups/"+made+"/batch",
		anything{"pouredOn": "2026-11-28", "verdict": "", "rested": "24 h", "project": p.UID, "part": "Nose"},
	)
	assert.Equal(t, 422, status)
	assert.Equal(t, "body.part", field)
	batch := get[web.BatchCard](s, "POST", "/cups/"+made+"/batch", record)
	assert.Equal(t, next.Steps[0].Cup.Doses, batch.Sum)
	assert.Equal(t, "Mine", batch.ProjectName)
	assert.Positive(t, batch.Outcome.LeftML)
	assert.Nil(t, batch.Drift, "it was poured from no recipe")

	got := get[web.BatchCard](
		s, "PUT", "/batches/"+batch.UID+"/outcome",
		anything{"mold": "paddle-minnow", "heatsC": []float64{150}, "defects": []string{"short"}, "float": "sinks"},
	)
	require.Len(t, got.Why, 1)
	assert.Contains(t, got.Why[0].Causes[0].Says, "too cold")
	saved := get[web.RecipeCard](s, "POST", "/batches/"+batch.UID+"/recipe", anything{"name": "Happy accident"})
	assert.Equal(t, batch.Sum, saved.Doses)

	p = get[web.ProjectCard](s, "GET", "/projects/"+p.UID, nil)
	assert.Equal(t, project.ByModel, p.Trail[0].Tries[0].By)
	wanted := p.Trail[0].Wanted[0].Lab
	get[web.BatchCard](
		s, "POST", "/batches/"+batch.UID+"/readings",
		anything{
			"name": "Flank", "lab": wanted, "thicknessMM": 8, "ground": "white", "state": "rested", "how": "photo",
		},
	)
	p = get[web.ProjectCard](s, "GET", "/projects/"+p.UID, nil)
	assert.Equal(t, project.ByMove, p.Trail[0].Tries[0].By, "the fin was not read")
	assert.InDelta(t, 0, p.Trail[0].Tries[0].Judged[0].Differs.DeltaE00, 1e-9)

	// In words, beside what was sought: it is too dark, so it lies below.
	said := get[web.BatchCard](
		s, "POST", "/batches/"+batch.UID+"/readings/said",
		anything{"moves": []any{anything{"what": "too dark", "much": "some"}}},
	)
	last := said.Readings[len(said.Readings)-1]
	assert.Less(t, last.Lab.L, wanted.L-3)
	assert.Equal(t, recipe.ByWords, last.How)
	status, _, says = s.refused(
		"POST", "/batches/"+batch.UID+"/readings/said",
		anything{"moves": []any{anything{"what": "too solid", "much": "some"}}},
	)
	assert.Equal(t, 422, status)
	assert.Contains(t, says, "over white and over dark")

	// An earlier attempt of which only the bait is left.
	old := get[web.BatchCard](s, "POST", "/batches", anything{
		"pouredOn": "2025-05-01", "volume": "1 cup", "additions": []any{}, "verdict": "From last spring",
		"rested":  "9000 h",
		"unknown": true, "plastisol": "skerry-medium", "project": p.UID, "part": "Flank",
	})
	status, _, says = s.refused(
		"POST", "/batches",
		anything{
			"pouredOn": "2025-05-01", "volume": "1 cup",
			"additions": []any{anything{"doses": []any{anything{
				"material": "tea-brown", "typed": "2 drops",
			}}}}, "verdict": "",
			"rested": "1 h", "unknown": true, "plastisol": "skerry-medium",
		},
	)
	assert.Equal(t, 422, status)
	assert.Contains(t, says, "nobody knows what went in")
	get[web.BatchCard](
		s, "POST", "/batches/"+old.UID+"/readings",
		anything{
			"name": "Flank", "lab": wanted, "thicknessMM": 8, "ground": "white", "state": "rested", "how": "photo",
		},
	)
	p = get[web.ProjectCard](s, "GET", "/projects/"+p.UID, nil)
	assert.Equal(t, "Nobody knows what went in.", p.Trail[0].Tries[0].Went, "the oldest comes first")
	assert.Empty(t, p.Trail[0].Tries[1].Changed, "there is nothing known that it could be changed from")
	assert.Contains(t, p.Trail[0].Tries[0].Judged[1].Says, "Nobody knows", "the fin was not read")

	// Changed from two windows.
	get[web.ProjectCard](
		s, "PATCH", "/projects/"+p.UID, anything{"seen": p.Revision, "most": 2, "notes": "Two bottles are enough."},
	)
	status, _, _ = s.refused("PATCH", "/projects/"+p.UID, anything{"seen": p.Revision, "most": 3})
	assert.Equal(t, 409, status)
	status, field, _ = s.refused("POST", "/projects/"+p.UID+"/next", anything{"part": "Nose"})
	assert.Equal(t, 422, status)
	assert.Equal(t, "body.part", field)
}

// A batch whose drops nobody counted to the end says what its readings make of them.
func TestALostCountIsSolved(t *testing.T) {
	t.Parallel()
	s := serve(t, true)
	p := get[web.ProjectCard](
		s, "GET", "/projects/"+named(t, list[web.ProjectItem](s, "/projects"), "Perch flank").UID, nil,
	)
	batch := p.Trail[0].Tries[0].UID
	for _, mm := range []float64{8, 2} {
		lab := p.Trail[0].Wanted[map[float64]int{8: 0, 2: 1}[mm]].Lab
		get[web.BatchCard](
			s, "POST", "/batches/"+batch+"/readings",
			anything{
				"name": "Flank", "lab": lab, "thicknessMM": mm, "ground": "white", "state": "rested",
				"how": "instrument",
			},
		)
	}
	for _, b := range list[web.BatchCard](s, "/batches") {
		if b.UID == batch {
			require.Len(t, b.Solved, 1)
			assert.Contains(t, b.Solved[0], "Estuary mud: by the readings")
			return
		}
	}
	t.Fatal("the batch is gone")
}
