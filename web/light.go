package web

import (
	"bytes"
	"cmp"
	"context"
	"image/jpeg"
	"strings"

	"github.com/danielgtaylor/huma/v2"

	"cloudburst/core/colour"
	"cloudburst/core/measure"
	"cloudburst/core/photo"
	"cloudburst/core/reference"
	"cloudburst/format"
)

// LightInput says what in a photo is known, so that its light can be undone.
type LightInput struct {
	Seen     int          `json:"seen" minimum:"1" doc:"The revision of the reference that was seen"`
	Kind     string       `json:"kind" enum:"none,white-grey,card,bare"`
	White    photo.Disc   `json:"white,omitempty"`
	Grey     photo.Disc   `json:"grey,omitempty"`
	WhitePct float64      `json:"whitePct,omitempty" doc:"How much the white thing sends back, %; 0 for paper, 88"`
	GreyPct  float64      `json:"greyPct,omitempty" doc:"The same of the grey thing; 0 for a grey card, 18"`
	Bare     photo.Disc   `json:"bare,omitempty" doc:"The bare lamp, window or sky beside a bait that is held against it"`
	Corners  [][2]float64 `json:"corners,omitempty" maxItems:"4" doc:"The card's outer corners: top left, top right, bottom right, bottom left"`
	Chart    string       `json:"chart,omitempty" maxLength:"300000" doc:"The card's own values, a CGATS or CSV file; empty for the card that is known here, where there is one"`
	Lamp     string       `json:"lamp,omitempty" enum:",D65,D50,D75,A,LED3000S,F2,F11" doc:"The light it was taken in; empty where nobody knows"`
}

const afterWidth = 900

func (a *api) lightRoutes() {
	const withChart = 512 << 10
	post(
		a, "setLight", "/references/{reference}/light", a.setLight, func(o *huma.Operation) { o.MaxBodyBytes = withChart },
	)
	file(
		a, "photoAfter", "/references/{reference}/after", "image/jpeg", "The photo with its light undone", a.photoAfter,
	)
}

// undo works the light out of what was pinned.
func (a *api) undo(p *photo.Picture, in *LightInput) (*photo.Light, error) {
	lamp := colour.Light(in.Lamp)
	switch in.Kind {
	case "white-grey":
		white, err := photo.Neutral("whitePct", in.White, in.WhitePct, photo.Paper)
		if err != nil {
			return nil, err
		}
		grey, err := photo.Neutral("greyPct", in.Grey, in.GreyPct, photo.GreyCard)
		if err != nil {
			return nil, err
		}
		return photo.ByWhiteAndGrey(p, white, grey, lamp)
	case "card":
		if len(in.Corners) != 4 {
			return nil, measure.Faulty("corners", "pin all four corners of the card")
		}
		chart := a.tooled.Card
		switch typed := strings.TrimSpace(in.Chart); {
		case typed == "" && chart == nil:
			return nil, measure.Faulty("chart", "choose the file with your card's own values (CGATS or CSV)")
		case typed != "":
			var err error
			if chart, err = format.ReadChart(strings.NewReader(in.Chart)); err != nil {
				return nil, measure.Faulty("chart", "%s", err)
			}
		}
		return photo.ByCard(p, [4][2]float64(in.Corners), chart)
	case "bare":
		return photo.ByBareLight(p, in.Bare, lamp)
	}
	return nil, nil
}

func (a *api) tintRoutes() {
	get(a, "tintOrClear", "/references/{reference}/tint", a.tintOrClear)
}

type setLightIn struct {
	ReferencePath
	Body LightInput
}

func (a *api) setLight(ctx context.Context, in *setLightIn) (*referenceAnswer, error) {
	r, err := shopOf(ctx).Reference(ctx, in.UID)
	if err != nil {
		return nil, problem(err, "")
	}
	p, err := a.picture(ctx, r)
	if err != nil {
		return nil, problem(err, "")
	}
	light, err := dear(ctx, a.budget, func(ctx context.Context) (*photo.Light, error) {
		light, err := a.undo(p, &in.Body)
		for i := 0; err == nil && i < len(r.Pins); i++ { // what was pinned before is read anew
			if !r.Pins[i].OnPhoto() {
				continue
			}
			if r.Pins[i].Reading, err = photo.Sample(p, r.Pins[i].Disc, light); err != nil {
				err = measure.Faulty("disc", "%s", err)
			}
			err = cmp.Or(err, ctx.Err())
		}
		return light, err
	})
	if err != nil {
		return nil, problem(err, "")
	}
	return a.reference(ctx, in.UID, shopOf(ctx).SetLight(ctx, in.UID, in.Body.Seen, light, r.Pins))
}

type tintOrClearIn struct {
	ReferencePath
	One       string `query:"one" maxLength:"64" format:"uid" required:"true" doc:"uid of a pin"`
	Other     string `query:"other" maxLength:"64" format:"uid" required:"true"`
	OneBare   bool   `query:"oneBare" doc:"Nothing lies behind that spot but the ground"`
	OtherBare bool   `query:"otherBare"`
}

func (a *api) tintOrClear(ctx context.Context, in *tintOrClearIn) (*struct{ Body reference.Verdict }, error) {
	r, err := shopOf(ctx).Reference(ctx, in.UID)
	if err != nil {
		return nil, problem(err, "")
	}
	v, err := reference.TintOf(r.Pins, in.One, in.Other, in.OneBare, in.OtherBare)
	return &struct{ Body reference.Verdict }{v}, problem(err, "")
}

func (a *api) photoAfter(ctx context.Context, in *ReferencePath) (*fileAnswer, error) {
	r, err := shopOf(ctx).Reference(ctx, in.UID)
	if err != nil {
		return nil, problem(err, "")
	}
	if r.Light == nil {
		return nil, huma.Error404NotFound("The light of this photo is not undone yet.")
	}
	p, err := a.picture(ctx, r)
	if err != nil {
		return nil, problem(err, "")
	}
	raw, err := dear(ctx, a.budget, func(context.Context) ([]byte, error) {
		var b bytes.Buffer
		err := jpeg.Encode(&b, p.Lit(r.Light, afterWidth), &jpeg.Options{Quality: 90})
		return b.Bytes(), err
	})
	return &fileAnswer{"image/jpeg", "inline", raw}, problem(err, "")
}
