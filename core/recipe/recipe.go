package recipe

import (
	"cmp"
	"strings"
	"unicode/utf8"

	"cloudburst/core/cup"
	"cloudburst/core/material"
	"cloudburst/core/measure"
)

// Recipe is a cup with a name, kept for next time.
type Recipe struct {
	UID    string   `json:"uid" pattern:"^[a-z0-9][a-z0-9-]{0,63}$"`
	Name   string   `json:"name" minLength:"1" maxLength:"80"`
	Notes  string   `json:"notes,omitempty" maxLength:"4000"`
	Tags   []string `json:"tags,omitempty" maxItems:"20"`
	Credit string   `json:"credit,omitempty" maxLength:"120" doc:"Whose idea it was"`
	OwnUse bool     `json:"ownUse,omitempty" doc:"For own use only: not to be sold or passed on"`
	ForkOf string   `json:"forkOf,omitempty" maxLength:"64" format:"uid" doc:"uid of the recipe that it was made from"`
	cup.Cup
}

// Check says what is wrong with a recipe.
func (r *Recipe) Check(shelf cup.Shelf) error {
	if !material.ValidUID(r.UID) {
		return measure.Faulty("uid", "uid %q: use up to 64 small letters, digits and hyphens", r.UID)
	}
	if err := cup.CheckName(r.Name); err != nil {
		return err
	}
	if len(r.Notes) > 4000 {
		return measure.Faulty("notes", "notes can have 4,000 letters; these have %d", len(r.Notes))
	}
	if len(r.Tags) > 20 || len(r.Credit) > 120 {
		return measure.Faulty("tags", "up to 20 tags and a credit of 120 letters are kept")
	}
	if err := firstFault(measure.CheckNote("notes", r.Notes), measure.CheckLine("credit", r.Credit)); err != nil {
		return err
	}
	for _, tag := range r.Tags {
		if err := measure.CheckLine("tags", tag); err != nil {
			return err
		}
		if n := utf8.RuneCountInString(tag); n == 0 || n > 30 || strings.TrimSpace(tag) != tag {
			return measure.Faulty("tags", "a tag has 1 to 30 letters; %q has not", tag)
		}
	}
	if r.ForkOf != "" && !material.ValidUID(r.ForkOf) {
		return measure.Faulty("forkOf", "uid %q: use up to 64 small letters, digits and hyphens", r.ForkOf)
	}
	return r.Cup.Check(shelf)
}

func firstFault(errs ...error) error {
	for _, err := range errs {
		if err != nil {
			return err
		}
	}
	return nil
}

// Fork is a recipe of one's own made from this one, and says so.
func (r Recipe) Fork(name string) Recipe {
	r.ForkOf, r.UID, r.Name = r.UID, "", strings.TrimSpace(name)
	return r
}

// Of makes a recipe of a cup. was is the recipe that it is the next version of: what that says besides its contents
// stays, its notes where there are no new ones. Without one, from is the recipe that the cup was poured from, if any.
func Of(c cup.Cup, name, notes string, was *Recipe, from string) Recipe {
	r := Recipe{Name: strings.TrimSpace(name), Notes: notes, ForkOf: from, Cup: c.Filled()}
	if was != nil {
		r.UID, r.ForkOf, r.Tags, r.Credit, r.OwnUse = was.UID, was.ForkOf, was.Tags, was.Credit, was.OwnUse
		r.Notes = cmp.Or(notes, was.Notes)
	}
	return r
}

// Tagged is the recipe with other tags; empty ones are none.
func (r Recipe) Tagged(tags []string) Recipe {
	r.Tags = nil
	for _, tag := range tags {
		if tag = strings.TrimSpace(tag); tag != "" {
			r.Tags = append(r.Tags, tag)
		}
	}
	return r
}
