package web

import (
	"bytes"
	"context"
	"fmt"
	"image/jpeg"
	"time"

	"github.com/hashicorp/golang-lru/v2/expirable"

	"cloudburst/core/bait"
	"cloudburst/core/mix"
	"cloudburst/core/picture"
)

// turnQuality of the pictures that are seen for a twentieth of a second.
const turnQuality = 88

// inHand is a bait while it is turned: everything but how it is held.
type inHand struct {
	shape   bait.Shape
	picture picture.BaitPicture
	at      mix.Condition
}

// hands keeps what is turned for a moment: between two of its pictures nothing but the view changes.
type hands = expirable.LRU[string, *inHand]

func newHands() *hands {
	const some, moment = 8, 3 * time.Second
	return expirable.NewLRU[string, *inHand](some, nil, moment)
}

// turned answers with a picture that was drawn in a hurry; take takes the bait into the hand where it is not in it.
func (a *api) turned(key, view string, take func() (*inHand, error)) (*fileAnswer, error) {
	h, there := a.hands.Get(key)
	if !there {
		var err error
		if h, err = take(); err != nil {
			return nil, problem(err, "")
		}
		h.picture.Palette = picture.NewPalette(h.picture.Cups, h.at)
		a.hands.Add(key, h)
	}
	v, err := h.shape.ParseView(view)
	if err != nil {
		return nil, problem(err, "")
	}
	p := h.picture
	// not kept: no two are alike
	p.BaitPlan = picture.GlanceAtBait(h.shape, v, turnedBait.width, turnedBait.height, h.at.Water != "")
	var out bytes.Buffer
	if err := jpeg.Encode(&out, p.Draw(h.at), &jpeg.Options{Quality: turnQuality}); err != nil {
		return nil, problem(err, "")
	}
	return &fileAnswer{ContentType: "image/jpeg", Body: out.Bytes()}, nil
}

func (a *api) turnBait(ctx context.Context, in *BaitPath) (*fileAnswer, error) {
	look := in.BaitLook
	look.View = ""
	return a.turned(ours(ctx, fmt.Sprint("bait ", in.UID, look)), in.View, func() (*inHand, error) {
		b, err := shopOf(ctx).Bait(ctx, in.UID, 0)
		if err != nil {
			return nil, err
		}
		h, err := a.hold(ctx, b, turnedBait, in.Cavity)
		if err != nil {
			return nil, err
		}
		h.picture.Judge = in.Even
		return &inHand{h.shape, h.picture, in.at()}, nil
	})
}

type turnCupIn struct {
	UID string `path:"cup" maxLength:"64" format:"uid"`
	ViewQuery
}

func (a *api) turnCup(ctx context.Context, in *turnCupIn) (*fileAnswer, error) {
	look := in.ViewQuery
	look.BaitView = ""
	return a.turned(ours(ctx, fmt.Sprint("cup ", in.UID, look)), in.BaitView, func() (*inHand, error) {
		c, m, _, err := a.stirred(ctx, in.UID)
		if err != nil {
			return nil, err
		}
		mold, err := a.mold(ctx, in.Bait)
		if err != nil {
			return nil, err
		}
		at := in.at(&c.Cup.Cup)
		if err := at.Check(); err != nil {
			return nil, err
		}
		return &inHand{
			mold.Bait(), picture.BaitPicture{Structure: plainStructure, Cups: []*mix.Mix{m}, Judge: in.Judge}, at,
		}, nil
	})
}
