package web

import (
	"bytes"
	"context"
	"fmt"
	"strings"

	lru "github.com/hashicorp/golang-lru/v2"

	"cloudburst/core/bait"
	"cloudburst/core/cup"
	"cloudburst/core/measure"
	"cloudburst/core/mix"
	"cloudburst/core/picture"
	"cloudburst/format"
	"cloudburst/store"
)

// sized is the size of a picture, px.
type sized struct{ width, height int }

// The pictures: on the bench at every tap, on a bait's own page large and small, in lists, and as a file.
var (
	benchBait  = sized{760, 264}
	pageBait   = sized{960, 400}
	smallBait  = sized{400, 150}
	listBait   = sized{320, 128}
	exportBait = sized{960, 480}
	turnedBait = sized{480, 240} // while it is turned
)

// plan lays a plain bait of one cup out, as it is asked for.
func (a *api) plan(m *shaped, q BaitQuery, at mix.Condition, size sized) (*picture.BaitPicture, error) {
	s := m.Bait()
	view, err := s.ParseView(q.BaitView)
	if err != nil {
		return nil, err
	}
	return &picture.BaitPicture{
		BaitPlan: a.plans.get(s, m.key, view, size, at.Water != ""), Structure: plainStructure, Judge: q.Judge,
	}, nil
}

func drawBait(p *picture.BaitPicture, at mix.Condition) (BaitImage, error) {
	png, err := dataURL(p.Draw(at))
	nose, _ := p.Place(0, 0)
	_, middle := p.Place(0, float64(p.Height)/2)
	return BaitImage{png, p.PxPerMM, p.Width, p.Height, nose, middle, p.Paper(at).Hex()}, err
}

// holding is a bait ready to be drawn.
type holding struct {
	saved   store.SavedBait
	mold    shaped
	shape   bait.Shape
	picture picture.BaitPicture
	cups    []BaitCup
	mixes   []*mix.Mix
	vessels []*cup.Cup
}

func (a *api) holdAt(ctx context.Context, in *BaitPath, size sized) (*holding, error) {
	b, err := shopOf(ctx).Bait(ctx, in.UID, 0)
	if err != nil {
		return nil, err
	}
	h, err := a.hold(ctx, b, size, in.Cavity)
	if err != nil {
		return nil, err
	}
	h.picture, err = a.held(h, &in.BaitLook, in.View, size)
	return h, err
}

// held is the bait's picture as it is looked at.
func (a *api) held(h *holding, look *BaitLook, view string, size sized) (picture.BaitPicture, error) {
	p := h.picture
	v, err := h.shape.ParseView(view)
	if err != nil {
		return p, err
	}
	p.Judge = look.Even
	p.BaitPlan = a.plans.get(h.shape, h.mold.key, v, size, look.Water != "")
	p.Laid = a.plans.laid(&p)
	return p, nil
}

// hold stirs the cups of a design. One that is not there is stood in for by plain smoke.
func (a *api) hold(ctx context.Context, b store.SavedBait, size sized, cavity int) (*holding, error) {
	h := &holding{saved: b}
	var err error
	if h.mold, err = a.mold(ctx, b.Mold); err != nil {
		return nil, err
	}
	h.shape = h.mold.Bait()
	labels, shelf, err := a.cupsOf(ctx, &b.Design)
	if err != nil {
		return nil, err
	}
	for i, c := range b.Cups {
		card := BaitCup{
			UID: c.Cup, Name: "to be chosen", Gone: true,
			Pour: bait.Field{Key: fmt.Sprintf("cups.%d.pour", i), Value: measure.Degrees(c.PourC)},
		}
		mixed, vessel := fog, (*cup.Cup)(nil)
		if label, there := labels[c.Cup]; there {
			m, err := mix.Stir(&label.Cup.Cup, shelf)
			if err == nil { // one that can't be worked out is stood in for, too
				mixed, vessel, card.Gone = m, &label.Cup.Cup, false
			}
			card.Name = nameOfCup(&label).long
		}
		card.Swatch = mix.NewSwatch(mixed.Colour(bodyLook))
		h.cups, h.mixes, h.vessels = append(h.cups, card), append(h.mixes, mixed), append(h.vessels, vessel)
	}
	h.picture = picture.BaitPicture{Structure: b.Structure, Cups: h.mixes, Split: h.mold.Way(), Cavity: cavity}
	return h, nil
}

// cupsOf are the cups of a design that are on the bench, by uid, and what may be in them.
func (a *api) cupsOf(ctx context.Context, d *bait.Design) (map[string]store.CupLabel, cup.Shelf, error) {
	var uids []string
	for _, c := range d.Cups {
		if c.Cup != "" {
			uids = append(uids, c.Cup)
		}
	}
	list, err := shopOf(ctx).CupsNamed(ctx, uids)
	if err != nil {
		return nil, nil, err
	}
	shelf, err := shopOf(ctx).Shelf(ctx)
	by := map[string]store.CupLabel{}
	for _, c := range list {
		by[c.UID] = c
	}
	return by, shelf, err
}

func newCache[T any](most int) *lru.Cache[string, T] {
	c, err := lru.New[string, T](most)
	if err != nil {
		panic(err) // only a size below one is refused
	}
	return c
}

// pngAnswer is a picture by itself.
type pngAnswer struct {
	ContentType string `header:"Content-Type"`
	Body        []byte
}

// recipePicture draws a usual bait of a recipe.
func (a *api) recipePicture(ctx context.Context, r *store.SavedRecipe) ([]byte, error) {
	return a.cupPicture(ctx, fmt.Sprint(r.UID, "@", r.Revision), &r.Cup)
}

// mixPicture draws a usual bait of a mix.
func (a *api) mixPicture(ctx context.Context, m *mix.Mix, size sized) (BaitImage, error) {
	mold, err := a.mold(ctx, "")
	if err != nil {
		return BaitImage{}, err
	}
	return dear(ctx, a.budget, func(context.Context) (BaitImage, error) {
		s := mold.Bait()
		return drawBait(
			&picture.BaitPicture{
				BaitPlan: a.plans.get(
					s, mold.key, s.Main(), size, false,
				), Structure: plainStructure, Cups: []*mix.Mix{m},
			},
			bodyLook,
		)
	})
}

// cupPicture draws a usual bait of what is in a cup, kept under its name as long as the shelf does not change.
func (a *api) cupPicture(ctx context.Context, name string, c *cup.Cup) ([]byte, error) {
	mark, err := shopOf(ctx).ShelfMark(ctx)
	if err != nil {
		return nil, err
	}
	key := ours(ctx, name+" "+mark)
	if raw, kept := a.pictures.Get(key); kept {
		return raw, nil
	}
	shelf, err := shopOf(ctx).Shelf(ctx)
	if err != nil {
		return nil, err
	}
	raw, err := dear(ctx, a.budget, func(context.Context) ([]byte, error) {
		mixed, err := mix.Stir(c, shelf)
		if err != nil {
			return nil, err
		}
		m, err := a.mold(ctx, "")
		if err != nil {
			return nil, err
		}
		s := m.Bait()
		p := picture.BaitPicture{
			BaitPlan: a.plans.get(
				s, m.key, s.Main(), listBait, false,
			), Structure: plainStructure, Cups: []*mix.Mix{mixed},
		}
		var out bytes.Buffer
		err = picture.EncodePNG(&out, p.Draw(bodyLook))
		return out.Bytes(), err
	})
	if err == nil {
		a.pictures.Add(key, raw)
	}
	return raw, err
}

func (a *api) baitPicture(ctx context.Context, in *BaitPath) (*fileAnswer, error) {
	h, err := a.holdAt(ctx, in, exportBait)
	if err != nil {
		return nil, problem(err, "")
	}
	var raw bytes.Buffer
	if err := picture.EncodePNG(&raw, h.picture.Draw(in.at())); err != nil {
		return nil, problem(err, "")
	}
	var cups []string
	for _, c := range h.cups {
		cups = append(cups, c.Name)
	}
	file, err := format.WithText(raw.Bytes(), [][2]string{
		{"Title", h.saved.Name}, {
			"Description",
			fmt.Sprintf("%s of %s; %s. Predicted, an estimate.", h.mold.Name, strings.Join(cups, ", "), in.says()),
		}, {"Software", "Cloudburst"},
	})
	return &fileAnswer{
		"image/png", fmt.Sprintf("attachment; filename=%q", plainName(h.saved.Name)+".png"), file,
	}, problem(err, "")
}

func (a *api) baitStrip(ctx context.Context, in *BaitPath) (*fileAnswer, error) {
	h, err := a.holdAt(ctx, in, listBait)
	if err != nil {
		return nil, problem(err, "")
	}
	svg := format.Strip(h.saved.Name, &h.shape, &h.saved.Structure)
	return &fileAnswer{
		"image/svg+xml", fmt.Sprintf("attachment; filename=%q", plainName(h.saved.Name)+"-strip.svg"), svg,
	}, nil
}
