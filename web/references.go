package web

import (
	"context"
	"strings"

	"cloudburst/core/cup"
	"cloudburst/core/measure"
	"cloudburst/core/mix"
	"cloudburst/core/optics"
	"cloudburst/core/photo"
	"cloudburst/core/reference"
	"cloudburst/store"
)

// PinCard is a pin with its colour, ready to be taken as a target.
type PinCard struct {
	reference.Pin
	Swatch mix.Swatch `json:"swatch"`
	Target cup.Target `json:"target"`
}

// ReferenceCard is a reference with its pins.
type ReferenceCard struct {
	store.Reference
	Pins      []PinCard      `json:"pins" nullable:"false"`
	LightSays []string       `json:"lightSays" nullable:"false" doc:"What is to be known of how its light was undone"`
	Bag       *reference.Bag `json:"bag,omitempty" doc:"Where several baits of one bag were pinned: their spread, and the one that is not typical"`
}

func cardOfReference(r store.Reference) ReferenceCard {
	card := ReferenceCard{Reference: r, Pins: []PinCard{}, LightSays: []string{}}
	if r.Light != nil {
		card.LightSays = r.Light.Says()
	}
	targets, bag := reference.Targets(r.Name, r.UID, r.Pins)
	card.Bag = bag
	for i, p := range r.Pins {
		card.Pins = append(card.Pins, PinCard{p, mix.NewSwatch(p.Reading.Lab), targets[i]})
	}
	return card
}

// Sample is what a spot on a photo reads.
type Sample struct {
	photo.Reading
	Swatch mix.Swatch `json:"swatch"`
}

// ReferencePath names a reference.
type ReferencePath struct {
	UID string `path:"reference" maxLength:"64" format:"uid"`
}

const staleReference = "This reference was changed from another window since you opened it. It is shown as it stands now; do it again if it still fits."

type referenceAnswer struct{ Body ReferenceCard }

func (a *api) referenceRoutes() {
	a.photoRoutes()
	a.toldRoutes()
	a.lightRoutes()
	a.tintRoutes()
	a.flakeRoutes()
	get(a, "listReferences", "/references", a.listReferences)
	get(a, "showReference", "/references/{reference}", a.showReference)
	post(a, "addReference", "/references", a.addReference)
	post(a, "sampleReference", "/references/{reference}/sample", a.sampleReference, asks)
	get(a, "thicknessOnPhoto", "/references/{reference}/thickness", a.thicknessOnPhoto)
	post(a, "addPin", "/references/{reference}/pins", a.readPin)
	post(a, "setBaitAside", "/references/{reference}/aside", a.setBaitAside)
	post(a, "setPinMine", "/references/{reference}/pins/{pin}/mine", a.setPinMine)
	remove(a, "removePin", "/references/{reference}/pins/{pin}", a.removePin)
}

func (a *api) reference(ctx context.Context, uid string, err error) (*referenceAnswer, error) {
	if err != nil {
		return nil, problem(err, staleReference)
	}
	r, err := shopOf(ctx).Reference(ctx, uid)
	return &referenceAnswer{cardOfReference(r)}, problem(err, "")
}

func (a *api) sample(ctx context.Context, reference string, d photo.Disc) (photo.Reading, error) {
	r, err := shopOf(ctx).Reference(ctx, reference)
	if err != nil {
		return photo.Reading{}, problem(err, "")
	}
	p, err := a.picture(ctx, r)
	if err != nil {
		return photo.Reading{}, problem(err, "")
	}
	got, err := photo.Sample(p, d, r.Light)
	if err != nil {
		return got, fieldProblem("disc", err.Error())
	}
	return got, nil
}

func (a *api) picture(ctx context.Context, r store.Reference) (*photo.Picture, error) {
	if r.Photo == nil {
		return nil, measure.Faulty("photo", "this reference has no photo; begin one from a photo to pin it")
	}
	uid := r.Photo.UID
	return a.photos.get(ctx, a.budget, uid, func() ([]byte, error) { return shopOf(ctx).Photo(ctx, uid) })
}

func (a *api) listReferences(ctx context.Context, in *PageQuery) (*struct{ Body store.Listed[ReferenceCard] }, error) {
	list, err := shopOf(ctx).References(ctx, in.page())
	if err != nil {
		return nil, problem(err, "")
	}
	out, err := eachOf(list, func(r store.Reference) (ReferenceCard, error) { return cardOfReference(r), nil })
	return &struct{ Body store.Listed[ReferenceCard] }{out}, problem(err, "")
}

func (a *api) showReference(ctx context.Context, in *ReferencePath) (*referenceAnswer, error) {
	return a.reference(ctx, in.UID, nil)
}

type addReferenceIn struct {
	Body struct {
		Name  string `json:"name" maxLength:"200"`
		Photo string `json:"photo" maxLength:"64" format:"uid" doc:"uid of a photo; empty for a reference that is told"`
	}
}

func (a *api) addReference(ctx context.Context, in *addReferenceIn) (*referenceAnswer, error) {
	name := strings.TrimSpace(in.Body.Name)
	if err := cup.CheckName(name); err != nil {
		return nil, problem(err, "")
	}
	if in.Body.Photo != "" {
		if err := shopOf(ctx).HasPhoto(ctx, in.Body.Photo); err != nil {
			return nil, problem(err, "")
		}
	}
	r, err := shopOf(ctx).AddReference(ctx, name, in.Body.Photo)
	return a.reference(ctx, r.UID, err)
}

type sampleReferenceIn struct {
	ReferencePath
	Body photo.Disc
}

func (a *api) sampleReference(ctx context.Context, in *sampleReferenceIn) (*struct{ Body Sample }, error) {
	got, err := a.sample(ctx, in.UID, in.Body)
	if err != nil {
		return nil, err
	}
	return &struct{ Body Sample }{Sample{got, mix.NewSwatch(got.Lab)}}, nil
}

type thicknessOnPhotoIn struct {
	ReferencePath
	Mold string    `query:"mold" maxLength:"64" format:"uid" required:"true" doc:"uid of a mold, or a built-in shape"`
	Nose []float64 `query:"nose,explode" minItems:"2" maxItems:"2" required:"true" doc:"px of the photo"`
	Tail []float64 `query:"tail,explode" minItems:"2" maxItems:"2" required:"true"`
	At   []float64 `query:"at,explode" minItems:"2" maxItems:"2" required:"true"`
}

func (a *api) thicknessOnPhoto(ctx context.Context, in *thicknessOnPhotoIn) (*struct {
	Body struct {
		ThicknessMM float64 `json:"thicknessMM"`
	}
}, error,
) {
	mold, err := a.mold(ctx, in.Mold)
	if err != nil {
		return nil, problem(err, "")
	}
	shape := mold.Bait()
	out := &struct {
		Body struct {
			ThicknessMM float64 `json:"thicknessMM"`
		}
	}{}
	out.Body.ThicknessMM, err = shape.ThicknessAt([2]float64(in.Nose), [2]float64(in.Tail), [2]float64(in.At))
	return out, problem(err, "")
}

type addPinIn struct {
	ReferencePath
	Body struct {
		Name        string        `json:"name" maxLength:"200"`
		Disc        photo.Disc    `json:"disc"`
		ThicknessMM float64       `json:"thicknessMM"`
		Ground      optics.Ground `json:"ground" enum:"white,dark,grey,against,metal,hand"`
		Sample      int           `json:"sample,omitempty" minimum:"0" maximum:"40" doc:"Which bait of a bag; 0 where it is the only one"`
		State       cup.State     `json:"state,omitempty" enum:"hot,fresh,rested" doc:"How old the plastic is on the photo; rested where nobody says"`
	}
}

func (a *api) readPin(ctx context.Context, in *addPinIn) (*referenceAnswer, error) {
	if _, done, err := shopOf(ctx).Done(ctx); done || err != nil {
		return a.reference(ctx, in.UID, err)
	}
	p := reference.Pin{
		Name: strings.TrimSpace(in.Body.Name), Disc: in.Body.Disc, ThicknessMM: in.Body.ThicknessMM,
		Ground: in.Body.Ground,
		Sample: in.Body.Sample, State: in.Body.State,
	}
	got, err := a.sample(ctx, in.UID, p.Disc)
	if err != nil {
		return nil, err
	}
	p.Reading = got
	return a.reference(ctx, in.UID, a.addPin(ctx, in.UID, p))
}

type setBaitAsideIn struct {
	ReferencePath
	Body struct {
		Seen   int  `json:"seen" minimum:"1" doc:"The revision of the reference that was seen"`
		Sample int  `json:"sample" minimum:"1" maximum:"40"`
		Aside  bool `json:"aside"`
	}
}

func (a *api) setBaitAside(ctx context.Context, in *setBaitAsideIn) (*referenceAnswer, error) {
	return a.reference(ctx, in.UID, shopOf(ctx).SetAside(ctx, in.UID, in.Body.Seen, in.Body.Sample, in.Body.Aside))
}

type removePinIn struct {
	ReferencePath
	Pin string `path:"pin" maxLength:"64" format:"uid"`
}

type setPinMineIn struct {
	ReferencePath
	Pin  string `path:"pin" maxLength:"64" format:"uid"`
	Body struct {
		Seen int  `json:"seen" minimum:"1" doc:"The revision of the reference that was seen"`
		Mine bool `json:"mine" doc:"Differs on purpose: left out of what is scored"`
	}
}

func (a *api) setPinMine(ctx context.Context, in *setPinMineIn) (*referenceAnswer, error) {
	return a.reference(ctx, in.UID, shopOf(ctx).SetMine(ctx, in.UID, in.Body.Seen, in.Pin, in.Body.Mine))
}

func (a *api) removePin(ctx context.Context, in *removePinIn) (*referenceAnswer, error) {
	return a.reference(ctx, in.UID, shopOf(ctx).RemovePin(ctx, in.UID, in.Pin))
}
