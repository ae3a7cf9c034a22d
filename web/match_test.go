package web_test

import (
	"encoding/json"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cloudburst/core/cup"
	"cloudburst/core/match"
	"cloudburst/core/mix"
	"cloudburst/web"
)

type pins struct {
	UID, Name string
	Pins      []struct {
		Name        string
		ThicknessMM float64
		Target      cup.Target
	}
}

// goby is the demo's reference, its pins as readings; the first counts.
func goby(s *server) (pins, []anything) {
	r := list[pins](s, "/references")[0]
	var readings []anything
	for i, p := range r.Pins {
		weight := 0
		if i == 0 {
			weight = 1
		}
		readings = append(
			readings,
			anything{
				"name": p.Name, "lab": p.Target.Lab, "thicknessMM": p.ThicknessMM, "ground": "white", "weight": weight,
			},
		)
	}
	return r, readings
}

func TestAMatchOverTheAPI(t *testing.T) {
	t.Parallel()
	s := serve(t, true)
	r, readings := goby(s)
	ask := anything{
		"readings": readings, "volume": "1/2 cup", "most": 3,
		"allow": anything{"noBleeding": true, "kinds": []string{"colourant"}},
	}
	got := get[web.MatchAnswer](s, "POST", "/match", ask)
	require.Len(t, got.Candidates, 5)
	shelf := map[string]bottle{}
	for _, b := range get[[]bottle](s, "GET", "/materials", nil) {
		shelf[b.UID] = b
	}
	for _, c := range got.Candidates {
		assert.Empty(t, c.Bleeds)
		assert.LessOrEqual(t, len(c.Cup.Doses), 3)
		for _, d := range c.Cup.Doses {
			assert.Equal(t, "colourant", shelf[d.Material].Kind)
		}
	}
	assert.Less(t, got.Candidates[0].DeltaE00, 3.0)

	// One dose is held, one bottle stays on the shelf, and a changed dose is worked out.
	first := got.Candidates[0].Cup.Doses[0]
	first.Amount.Value += 2
	first.Typed = first.Amount.String()
	ask["held"] = []any{first}
	held := get[web.MatchAnswer](s, "POST", "/match", ask)
	for _, c := range held.Candidates {
		assert.Equal(t, first.Amount, c.Cup.Doses[0].Amount)
	}
	delete(ask, "held")
	ask["allow"] = anything{"not": []string{first.Material}}
	for _, c := range get[web.MatchAnswer](s, "POST", "/match", ask).Candidates {
		for _, d := range c.Cup.Doses {
			assert.NotEqual(t, first.Material, d.Material)
		}
	}
	filled := got.Candidates[0].Cup
	filled.Doses[0] = first
	look := get[web.MatchLook](s, "POST", "/match/look", anything{"ask": ask, "cup": filled})
	assert.NotEqual(t, got.Candidates[0].DeltaE00, look.DeltaE00)
	assert.True(t, strings.HasPrefix(look.Bait.PNG, "data:image/png"))

	// To the bench with its target, and the bench says the same.
	filled.Target = &r.Pins[0].Target
	made := get[struct{ Cups []string }](
		s, "POST", "/match/bench", anything{"cups": []anything{{"cup": filled, "letter": "B", "part": "back"}}},
	)
	on := get[struct {
		Cup  cup.Live
		Look mix.Look
	}](s, "GET", "/cups/"+made.Cups[0], nil)
	assert.Equal(t, "B", on.Cup.Letter)
	assert.InDelta(t, look.Readings[0].Differs.DeltaE00, on.Look.Against.DeltaE00, 1e-9)

	for says, body := range map[string]anything{
		"no bottle is allowed": {"readings": readings, "volume": "1 cup", "most": 3, "allow": anything{"words": "zzz"}},
		"nothing to match yet": {"readings": []anything{}, "volume": "1 cup", "most": 3},
		"volume":               {"readings": readings, "volume": "much", "most": 3},
	} {
		status, _, told := s.refused("POST", "/match", body)
		assert.Equal(t, 422, status)
		assert.Contains(t, told, says)
	}
	both := append([]anything{}, readings...)
	for i := range both {
		both[i]["weight"] = 1
	}
	_, _, told := s.refused("POST", "/match", anything{"readings": both, "volume": "1 cup", "most": 3})
	assert.Contains(t, told, "one plastic can't be both")
}

// Long searches answer in lines, the last with the answer.
func TestLongSearchesTellOnTheWay(t *testing.T) {
	t.Parallel()
	s := serve(t, true)
	_, readings := goby(s)
	last := func(path string, body any) (web.MatchLine, int) {
		answer := s.ask("POST", "/api/v1"+path, body)
		require.Equal(t, 200, answer.Code, answer.Body.String())
		all := strings.Split(strings.TrimSpace(answer.Body.String()), "\n")
		var line web.MatchLine
		require.NoError(t, json.Unmarshal([]byte(all[len(all)-1]), &line))
		return line, len(all)
	}
	few := anything{"words": "green"}
	line, n := last("/match/harder", anything{"readings": readings, "volume": "1 cup", "most": 3, "allow": few})
	require.NotNil(t, line.Answer)
	assert.NotEmpty(t, line.Answer.Candidates)
	assert.Greater(t, n, 1)
	line, _ = last(
		"/match/harder", anything{
			"readings": readings, "volume": "1 cup", "most": 3, "allow": anything{"words": "zzz"},
		},
	)
	assert.Contains(t, line.Error, "no bottle is allowed")
	line, _ = last("/match/layers", anything{"volume": "1 cup", "most": 2, "allow": anything{"kinds": []string{"colourant"}}, "parts": []anything{
		{
			"name": "Back",
			"readings": []anything{{
				"name": "back", "lab": anything{"L": 30, "a": 0, "b": 20}, "thicknessMM": 3, "ground": "white",
				"behind": []anything{{"part": 1, "mm": 4}},
			}},
		},
		{
			"name": "Belly",
			"readings": []anything{{
				"name": "belly", "lab": anything{"L": 80, "a": 2, "b": 10}, "thicknessMM": 5, "ground": "white",
			}},
		},
	}})
	require.NotNil(t, line.Layers)
	require.Len(t, line.Layers.Parts, 2)
	assert.LessOrEqual(t, line.Layers.DeltaE00, line.Layers.Alone+1e-9)
	line, _ = last(
		"/match/layers",
		anything{"volume": "1 cup", "most": 2, "parts": []anything{{"name": "Back", "readings": []anything{}}}},
	)
	assert.Contains(t, line.Error, "two to 4 parts")
}

// What is wrong with a cup, in words, becomes its target; the correction is for what is in it.
func TestACorrectionOverTheAPI(t *testing.T) {
	t.Parallel()
	s := serve(t, true)
	made := get[struct{ UID string }](s, "POST", "/cups", anything{"recipe": "wet-rope"})
	path := "/cups/" + made.UID
	said := get[web.SaidAnswer](
		s, "POST", path+"/said", anything{"moves": []anything{{"what": "too pale", "much": "some"}}},
	)
	assert.Contains(t, said.Target.Name, "too pale")
	assert.Positive(t, said.Target.Error)
	now := get[match.Corrected](s, "POST", path+"/correct", anything{"most": 2, "readings": []anything{{
		"name": said.Target.Name, "lab": said.Target.Lab, "thicknessMM": said.Target.ThicknessMM,
		"ground": said.Target.Ground,
	}}})
	require.NotEmpty(t, now.Options)
	assert.LessOrEqual(t, now.Options[0].DeltaE00, now.Now.DeltaE00)
	assert.Equal(t, "leave", now.Options[len(now.Options)-1].Kind)
	_, _, told := s.refused("POST", path+"/said", anything{"moves": []anything{}})
	assert.Contains(t, told, "say what is wrong")

	clear := get[struct{ UID string }](s, "POST", "/cups", anything{})
	_, _, told = s.refused("POST", "/cups/"+clear.UID+"/correct", anything{"most": 2})
	assert.Contains(t, told, "no target yet")
	between := get[web.SaidAnswer](s, "POST", "/cups/"+clear.UID+"/said", anything{"between": anything{
		"one": anything{"L": 40, "a": 0, "b": 0}, "other": anything{"L": 60, "a": 0, "b": 0}, "share": 0.5,
	}})
	assert.InDelta(t, 50, between.Target.Lab.L, 1e-9)
}
