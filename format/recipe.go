package format

import (
	"bytes"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"math"
	"reflect"
	"strings"

	"cloudburst/core/cup"
	"cloudburst/core/material"
	"cloudburst/core/measure"
	"cloudburst/core/recipe"
)

// The recipe file: its name, the version that is written, and the largest file that is read.
const (
	RecipeFormat   = "cloudburst-recipe"
	RecipeVersion  = 1
	MaxRecipeBytes = 1 << 20
	maxMaterials   = 541 // a plastisol, and 60 dilutions of 8 bottles each
)

// Document is one recipe with every material that it uses. docs/formats/recipe.schema.json describes it.
type Document struct {
	Format    string              `json:"format" enum:"cloudburst-recipe"`
	Version   int                 `json:"version" minimum:"1" maximum:"1"`
	Recipe    recipe.Recipe       `json:"recipe"`
	Materials []material.Material `json:"materials" nullable:"false" maxItems:"541" doc:"The plastisol first, then the rest in the order of their doses, a dilution after the bottles that it was cut from"`
}

// NewDocument puts a recipe together with the materials it uses.
func NewDocument(r recipe.Recipe, shelf cup.Shelf) (Document, error) {
	if err := r.Check(shelf); err != nil {
		return Document{}, err
	}
	doc := Document{RecipeFormat, RecipeVersion, r, []material.Material{shelf[r.Plastisol]}}
	in := map[string]bool{r.Plastisol: true}
	take := func(uid string) {
		if !in[uid] {
			in[uid] = true
			doc.Materials = append(doc.Materials, shelf[uid])
		}
	}
	for _, d := range r.Doses {
		if c := shelf[d.Material].Colourant; c != nil {
			for _, p := range c.Contains {
				take(p.Material)
			}
		}
		take(d.Material)
	}
	return doc, nil
}

// Write writes a document, the same bytes for the same document.
func (d *Document) Write(w io.Writer) error {
	enc := json.NewEncoder(w)
	enc.SetEscapeHTML(false)
	enc.SetIndent("", "  ")
	return enc.Encode(d)
}

// Shelf holds the document's own materials.
func (d *Document) Shelf() cup.Shelf {
	shelf := cup.Shelf{}
	for _, m := range d.Materials {
		shelf[m.UID] = m
	}
	return shelf
}

// ReadRecipe reads a recipe file and checks all that is in it. Errors are sentences for the person who chose the file.
func ReadRecipe(r io.Reader) (Document, error) {
	raw, err := io.ReadAll(io.LimitReader(r, MaxRecipeBytes+1))
	if err != nil {
		return Document{}, fmt.Errorf("the file could not be read: %w", err)
	}
	if len(raw) > MaxRecipeBytes {
		return Document{}, errors.New("this file is over 1 MB; a recipe file has a few kilobytes")
	}
	raw = bytes.TrimPrefix(raw, []byte("\xef\xbb\xbf")) // some editors put a byte order mark there
	var head struct {
		Format  string
		Version int
	}
	if err := json.Unmarshal(raw, &head); err != nil {
		return Document{}, notJSON(raw, err)
	}
	switch {
	case head.Format != RecipeFormat:
		return Document{}, fmt.Errorf("this is JSON, but no recipe file: its format should say %q", RecipeFormat)
	case head.Version > RecipeVersion:
		return Document{}, fmt.Errorf(
			"this recipe file is of version %d, written by a newer Cloudburst; this one reads up to version %d. Update first",
			head.Version, RecipeVersion,
		)
	case head.Version < 1:
		return Document{}, fmt.Errorf("this recipe file has version %d; versions start at 1", head.Version)
	}
	var d Document
	dec := json.NewDecoder(bytes.NewReader(raw))
	dec.DisallowUnknownFields()
	if err := dec.Decode(&d); err != nil {
		return Document{}, notJSON(raw, err)
	}
	if len(d.Materials) > maxMaterials {
		return Document{}, fmt.Errorf(
			"%d materials in one recipe; at most %d are taken", len(d.Materials), maxMaterials,
		)
	}
	if d.Recipe.Doses == nil {
		d.Recipe.Doses = []cup.Dose{}
	}
	for i := range d.Materials {
		m := &d.Materials[i]
		m.Tidy()
		if err := m.Check(); err != nil {
			return Document{}, fmt.Errorf("material %d (%s): %w", i+1, shorten(m.Name), err)
		}
	}
	if shelf := d.Shelf(); len(shelf) != len(d.Materials) {
		return Document{}, errors.New("two materials in this file have the same uid")
	}
	if err := d.Recipe.Check(d.Shelf()); err != nil {
		return Document{}, fmt.Errorf("recipe %s: %w", shorten(d.Recipe.Name), err)
	}
	shelf := d.Shelf()
	for _, dose := range d.Recipe.Doses {
		m := shelf[dose.Material]
		if err := agrees(&dose, &m, d.Recipe.Volume.ML); err != nil {
			return Document{}, err
		}
	}
	return d, nil
}

// agrees says whether a dose's amount is what was typed, as far as that reads the same in every shop: a spoon may be
// heaped otherwise.
func agrees(d *cup.Dose, m *material.Material, volumeML float64) error {
	typed, err := measure.StandardKit().ParseDose(d.Typed, m.Form(), volumeML)
	if err != nil || typed.Unit != d.Amount.Unit || typed.Unit == measure.InTeaspoons || typed.Estimated() ||
		d.Amount.Estimated() {
		return nil //nolint:nilerr // a measure of the shop's own
	}
	const near = 0.02
	if math.Abs(typed.Value-d.Amount.Value) > near*max(typed.Value, d.Amount.Value)+1e-9 {
		return fmt.Errorf(
			"%s: %q was typed, and the amount says %s; one of them is wrong", shorten(m.Name), shorten(d.Typed),
			d.Amount,
		)
	}
	return nil
}

func shorten(s string) string {
	if r := []rune(s); len(r) > 40 {
		return string(r[:40]) + "…"
	}
	return s
}

// notJSON says where a file breaks off.
func notJSON(raw []byte, err error) error {
	var syntax *json.SyntaxError
	var wrong *json.UnmarshalTypeError
	switch {
	case errors.As(err, &syntax):
		line := 1 + bytes.Count(raw[:min(int(syntax.Offset), len(raw))], []byte("\n"))
		return fmt.Errorf(
			"this file is no complete JSON: it breaks at line %d. Export the recipe again, or choose another file",
			line,
		)
	case errors.As(err, &wrong):
		if wrong.Field == "" {
			return errors.New("this is JSON, but no recipe file: it should hold a format, a version, a recipe and its materials")
		}
		return fmt.Errorf("in this file %s should be %s", shorten(wrong.Field), kindInWords(wrong.Type.Kind()))
	}
	if name, unknown := strings.CutPrefix(err.Error(), "json: unknown field "); unknown {
		return fmt.Errorf("this file holds a field %s that no recipe file has", shorten(name))
	}
	return errors.New("this file is no recipe file that can be read")
}

func kindInWords(k reflect.Kind) string {
	switch k {
	case reflect.String:
		return "text"
	case reflect.Bool:
		return "true or false"
	case reflect.Slice, reflect.Array:
		return "a list"
	case reflect.Struct, reflect.Map:
		return "a group of values"
	}
	return "a number"
}
