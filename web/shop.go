package web

import (
	"context"

	"cloudburst/core/colour"
	"cloudburst/core/cup"
	"cloudburst/core/match"
	"cloudburst/core/measure"
	"cloudburst/core/mix"
	"cloudburst/core/optics"
	"cloudburst/core/picture"
	"cloudburst/core/recipe"
)

// Choice is a thing to choose, with the name a maker knows it by.
type Choice struct {
	Key  string `json:"key"`
	Name string `json:"name"`
}

// ShopInfo is what every screen needs to know about the shop and the bench.
type ShopInfo struct {
	Name      string           `json:"name"`
	Currency  string           `json:"currency" doc:"What prices are in"`
	Demo      bool             `json:"demo"`
	Scale     bool             `json:"scale" doc:"A scale is connected"`
	Card      bool             `json:"card" doc:"A card is known whose file need not be chosen"`
	Grounds   []Choice         `json:"grounds" nullable:"false"`
	Lights    []Choice         `json:"lights" nullable:"false"`
	States    []Choice         `json:"states" nullable:"false"`
	Hows      []Choice         `json:"hows" nullable:"false" doc:"How a colour may have been read"`
	Tests     []recipe.Answers `json:"tests" nullable:"false" doc:"Tests of a bait that need no instrument"`
	Defects   []Choice         `json:"defects" nullable:"false" doc:"What can go wrong with a bait"`
	Waters    []Choice         `json:"waters" nullable:"false"`
	Froms     []Choice         `json:"froms" nullable:"false" doc:"From where a bait under water is seen"`
	Marks     []picture.Mark   `json:"marks" nullable:"false" doc:"Named places of the wedge"`
	WedgeMM   []float64        `json:"wedgeMM" nullable:"false" doc:"Thickness along the wedge, at even steps from its thin end to its thick one"`
	Moves     []Choice         `json:"moves" nullable:"false" doc:"What can be said of a cup that is not right, in words"`
	UsualWork string           `json:"usualWork" doc:"The temperature at which plastisol is worked unless somebody says otherwise, as one types it"`
}

func (a *api) shopRoutes() {
	a.keepingRoutes()
	get(a, "showShop", "/shop", a.showShop)
}

// ViewQuery says how a mix is looked at.
type ViewQuery struct {
	ThicknessMM float64 `query:"thickness" doc:"mm; as the target was read, or 4" minimum:"0" maximum:"100"`
	Ground      string  `query:"ground" enum:"white,dark,grey,against,metal,hand" doc:"As the target was read, or white"`
	Light       string  `query:"light" enum:"D65,D50,D75,A,LED3000S,F2,F11" default:"D65"`
	State       string  `query:"state" enum:"raw,hot,fresh,rested" doc:"As the target was read, or rested"`
	TiltDeg     float64 `query:"tilt" minimum:"0" maximum:"60" doc:"Degrees away from face-on"`
	Water       string  `query:"water" enum:"clear,green,stained,muddy" doc:"Under water, where set"`
	DepthM      float64 `query:"depth" minimum:"0" maximum:"50"`
	DistanceM   float64 `query:"distance" minimum:"0" maximum:"50"`
	BaitQuery
}

// at fills in what the query left out: a cup with a target is looked at as the target was.
func (q ViewQuery) at(c *cup.Cup) mix.Condition {
	at := mix.Condition{
		ThicknessMM: q.ThicknessMM, Ground: optics.Ground(q.Ground), Light: colour.Light(q.Light),
		State:   cup.State(q.State),
		TiltDeg: q.TiltDeg, Water: optics.Water(q.Water), DepthM: q.DepthM, DistanceM: q.DistanceM,
	}
	return at.Or(mix.UsualLook(c))
}

func defectChoices() []Choice {
	out := []Choice{}
	for _, d := range recipe.Defects() {
		out = append(out, Choice{string(d), d.Name()})
	}
	return out
}

func (a *api) showShop(ctx context.Context, _ *struct{}) (*struct{ Body ShopInfo }, error) {
	name, currency, err := shopOf(ctx).About(ctx)
	if err != nil {
		return nil, problem(err, "")
	}
	info := ShopInfo{
		Name: name, Currency: currency, Demo: shopOf(ctx).Demo, Scale: a.tooled.Scale != nil,
		Card:    a.tooled.Card != nil,
		Marks:   picture.Marks(),
		WedgeMM: picture.WedgeScale(), UsualWork: measure.Number(measure.Fahrenheit(cup.UsualWorkC), 0) + " °F",
	}
	info.Tests = recipe.Tests()
	info.Defects = defectChoices()
	for _, h := range recipe.Hows() {
		info.Hows = append(info.Hows, Choice{string(h), h.Name()})
	}
	for _, g := range optics.Grounds() {
		info.Grounds = append(info.Grounds, Choice{string(g), g.Name()})
	}
	for _, l := range colour.Lights() {
		info.Lights = append(info.Lights, Choice{string(l), l.Name()})
	}
	for _, st := range cup.States() {
		info.States = append(info.States, Choice{string(st), st.Name()})
	}
	for _, w := range optics.Waters() {
		info.Waters = append(info.Waters, Choice{string(w), w.Name()})
	}
	for _, f := range optics.Froms() {
		info.Froms = append(info.Froms, Choice{string(f), f.Name()})
	}
	for _, m := range match.Moves() {
		info.Moves = append(info.Moves, Choice{string(m), m.Name()})
	}
	return &struct{ Body ShopInfo }{info}, nil
}
