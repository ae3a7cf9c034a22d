package web

import (
	"bytes"
	"context"
	"fmt"
	"net/http"

	"github.com/danielgtaylor/huma/v2"
	lru "github.com/hashicorp/golang-lru/v2"

	"cloudburst/core/bait"
	"cloudburst/core/colour"
	"cloudburst/core/picture"
	"cloudburst/core/recipe"
	"cloudburst/format"
)

// ShapeCard is one of our own baits.
type ShapeCard struct {
	bait.Shape
	VolumeML   float64 `json:"volumeML"`
	ThinnestMM float64 `json:"thinnestMM"`
	ThickestMM float64 `json:"thickestMM"`
}

// BaitImage is a bait as it is drawn.
type BaitImage struct {
	PNG     string  `json:"png" doc:"A data URL"`
	PxPerMM float64 `json:"pxPerMM"`
}

// BaitInHand is a bait poured from one or two cups.
type BaitInHand struct {
	Shape     ShapeCard          `json:"shape"`
	Side      BaitImage          `json:"side"`
	Back      BaitImage          `json:"back"`
	FirstML   float64            `json:"firstML" doc:"What a bait takes of the first cup: the back, or the outside"`
	SecondML  float64            `json:"secondML" doc:"What it takes of the second: the belly, or the core"`
	Apart     *colour.Difference `json:"apart,omitempty" doc:"How the second lies from the first, as a body over white: whether two colours will be seen at all"`
	ApartSays string             `json:"apartSays,omitempty" doc:"The same in words"`
	Through   *colour.Difference `json:"through,omitempty" doc:"How what lies behind changes the second, seen through it"`
}

const defaultBait = "paddle-minnow"

// Sizes of the pictures, px: on the bench at every tap, and on the bait's own page.
const (
	benchBaitWidth, benchBaitHeight   = 520, 176
	pageBaitWidth, pageBaitHeight     = 816, 330
	exportBaitWidth, exportBaitHeight = 960, 480
)

// BaitQuery says in which bait a cup is shown, and from where.
type BaitQuery struct {
	Bait     string `query:"bait" maxLength:"40" doc:"Which bait it is shown in; empty for the usual"`
	BaitView string `query:"baitView" enum:"side,back" default:"side"`
}

func (q BaitQuery) shape() (bait.Shape, error) {
	key := q.Bait
	if key == "" {
		key = defaultBait
	}
	s, err := bait.Find(key)
	if err != nil {
		return s, &recipe.Fault{Field: "bait", Says: err.Error()}
	}
	return s, nil
}

func (q BaitQuery) view() bait.View {
	if q.BaitView == string(bait.Back) {
		return bait.Back
	}
	return bait.Side
}

func cardOfShape(s bait.Shape) ShapeCard {
	return ShapeCard{s, s.VolumeML(), s.ThinnestMM(), s.ThickestMM()}
}

func drawBait(p *picture.BaitPicture, at recipe.Condition) (BaitImage, error) {
	png, err := dataURL(p.Draw(at))
	return BaitImage{png, p.PxPerMM}, err
}

func (a *api) baitRoutes() {
	huma.Get(a.huma, "/baits", func(context.Context, *struct{}) (*struct {
		Body []ShapeCard `nullable:"false"`
	}, error,
	) {
		out := &struct {
			Body []ShapeCard `nullable:"false"`
		}{}
		for _, s := range bait.Shapes() {
			out.Body = append(out.Body, cardOfShape(s))
		}
		return out, nil
	})
	huma.Get(a.huma, "/bait/{cup}", func(ctx context.Context, in *inHand) (*struct{ Body BaitInHand }, error) {
		h, err := a.hold(ctx, in)
		if err != nil {
			return nil, problem(err, "")
		}
		p, shape := h.picture, h.picture.Shape
		out := BaitInHand{Shape: cardOfShape(shape)}
		share1, share2 := shape.SharesOf(&p.Structure)
		out.FirstML, out.SecondML = share1*out.Shape.VolumeML, share2*out.Shape.VolumeML
		if out.Side, err = drawBait(&p, h.at); err != nil {
			return nil, problem(err, "")
		}
		p.BaitPlan = a.plans.get(shape, bait.Back, pageBaitWidth, pageBaitHeight)
		if out.Back, err = drawBait(&p, h.at); err != nil {
			return nil, problem(err, "")
		}
		if p.Second != nil {
			apart := colour.Compare(p.Second.Colour(bodyLook), p.First.Colour(bodyLook))
			out.Apart = &apart
			switch {
			case apart.DeltaE00 < 4:
				out.ApartSays = apart.Nearness + ": hardly seen as two in a bait"
			case apart.DeltaE00 < 8:
				out.ApartSays = apart.Nearness
			default:
				out.ApartSays = "plainly two colours"
			}
			half := shape.ThickestMM() / 2
			alone := recipe.StackColour([]recipe.Slice{{Mix: p.Second, MM: half}}, bodyLook)
			backed := recipe.StackColour([]recipe.Slice{{Mix: p.Second, MM: half}, {Mix: p.First, MM: half}}, bodyLook)
			through := colour.Compare(backed, alone)
			out.Through = &through
		}
		return &struct{ Body BaitInHand }{out}, nil
	})
	huma.Register(a.huma, huma.Operation{
		OperationID: "bait-picture", Method: http.MethodGet, Path: "/bait/{cup}/picture",
		Summary: "The bait as a PNG that says what it shows", Responses: map[string]*huma.Response{"200": {Content: map[string]*huma.MediaType{"image/png": {}}}},
	}, func(ctx context.Context, in *inHand) (*fileAnswer, error) {
		h, err := a.hold(ctx, in)
		if err != nil {
			return nil, problem(err, "")
		}
		h.picture.BaitPlan = picture.PlanBait(h.picture.Shape, in.view(), exportBaitWidth, exportBaitHeight)
		var raw bytes.Buffer
		if err := picture.EncodePNG(&raw, h.picture.Draw(h.at)); err != nil {
			return nil, problem(err, "")
		}
		file, err := format.WithText(raw.Bytes(), [][2]string{
			{"Title", h.name}, {"Description", h.picture.Shape.Name + ", " + h.at.Ground.Name() + ", " + h.at.Light.Name() + ". Predicted, an estimate."}, {"Software", "Cloudburst"},
		})
		return &fileAnswer{"image/png", fmt.Sprintf("attachment; filename=%q", plainName(h.name)+".png"), file}, problem(err, "")
	})
}

// inHand asks for a bait of one or two cups.
type inHand struct {
	CupPath
	Second     string  `query:"second" maxLength:"64" doc:"uid of the cup for the belly or the core"`
	Kind       string  `query:"kind" enum:"single,laminate,core" default:"single"`
	BoundaryAt float64 `query:"boundary" minimum:"-0.9" maximum:"0.9"`
	BlurMM     float64 `query:"blur" minimum:"0" maximum:"10"`
	CoreShare  float64 `query:"core" minimum:"0" maximum:"0.95" doc:"0 for the usual half"`
}

// holding is a bait ready to be drawn.
type holding struct {
	picture picture.BaitPicture
	at      recipe.Condition
	name    string
}

func (a *api) hold(ctx context.Context, in *inHand) (h holding, err error) {
	b, first, _, err := a.stirred(ctx, in.UID)
	if err != nil {
		return h, err
	}
	shape, err := in.shape()
	if err != nil {
		return h, err
	}
	st := bait.Structure{Kind: bait.Kind(in.Kind), BoundaryAt: in.BoundaryAt, BlurMM: in.BlurMM, CoreShare: in.CoreShare}
	if st.CoreShare == 0 {
		st.CoreShare = 0.5
	}
	if err := st.Check(); err != nil {
		return h, &recipe.Fault{Field: "kind", Says: err.Error()}
	}
	h.picture = picture.BaitPicture{BaitPlan: a.plans.get(shape, bait.Side, pageBaitWidth, pageBaitHeight), Structure: st, First: first}
	h.at, h.name = in.at(&b.Cup.Cup), "A cup"
	if b.RecipeUID != "" {
		r, err := a.shop.RecipeAt(ctx, b.RecipeUID, b.RecipeRevision)
		if err != nil {
			return h, err
		}
		h.name = r.Name
	}
	if st.Kind == bait.Single {
		return h, nil
	}
	if in.Second == "" {
		return h, &recipe.Fault{Field: "second", Says: "Choose the cup for the other colour; split this one, or put a new one on the bench."}
	}
	_, h.picture.Second, _, err = a.stirred(ctx, in.Second)
	return h, err
}

// planCache keeps the plans of the baits that are being looked at.
type planCache struct {
	*lru.Cache[planKey, *picture.BaitPlan]
}

type planKey struct {
	shape         string
	view          bait.View
	width, height int
}

func newPlanCache() *planCache {
	const some = 24 // a few MB each
	c, err := lru.New[planKey, *picture.BaitPlan](some)
	if err != nil {
		panic(err) // only a size below one is refused
	}
	return &planCache{c}
}

func (c *planCache) get(s bait.Shape, view bait.View, width, height int) *picture.BaitPlan {
	key := planKey{s.Key, view, width, height}
	if p, ok := c.Get(key); ok {
		return p
	}
	p := picture.PlanBait(s, view, width, height)
	c.Add(key, p)
	return p
}
