package store

import (
	"bytes"
	"encoding/json"
	"fmt"
	"strconv"
)

// form is one kind of document in a JSON column. Each document says of which version of its form it is ("v", its first
// field), so that a field can be renamed or change its meaning and nothing that was kept before is lost: up[i] takes a
// document of version i to i+1, nil where it reads as it is. Version 0 are those written before versions were.
type form struct {
	name string
	up   []func(doc map[string]any)
}

// The forms. A change to one of them appends to its up; testdata/dumps of package web holds what earlier programs
// wrote.
var (
	materialForm     = form{"material", []func(map[string]any){nil}}
	stockForm        = form{"stock", []func(map[string]any){nil}}
	kitForm          = form{"kit", []func(map[string]any){nil}}
	liveForm         = form{"live cup", []func(map[string]any){nil}}
	stepForm         = form{"step", []func(map[string]any){nil}}
	targetForm       = form{"target", []func(map[string]any){nil}}
	seenForm         = form{"seen", []func(map[string]any){nil}}
	moldForm         = form{"mold", []func(map[string]any){nil}}
	designForm       = form{"design", []func(map[string]any){nil}}
	readingForm      = form{"reading", []func(map[string]any){nil}}
	lightForm        = form{"light", []func(map[string]any){nil}}
	countForm        = form{"flake count", []func(map[string]any){nil}}
	batchReadingForm = form{"reading of a batch", []func(map[string]any){nil}}
	knownForm        = form{"what batches taught", []func(map[string]any){nil}}
	outcomeForm      = form{"outcome of a batch", []func(map[string]any){nil}}
	projectForm      = form{"project", []func(map[string]any){nil}}
	equipmentForm    = form{"equipment", []func(map[string]any){nil}}
	orderForm        = form{"order", []func(map[string]any){nil}}
	runForm          = form{"run", []func(map[string]any){nil}}
	eventForm        = form{"event of a run", []func(map[string]any){nil}}
	runOutcomeForm   = form{"outcome of a run", []func(map[string]any){nil}}
	leftoverForm     = form{"leftover", []func(map[string]any){nil}}
	entryForm        = form{"log entry", []func(map[string]any){nil}}
	supplyForm       = form{"supply", []func(map[string]any){nil}}
	packForm         = form{"pack", []func(map[string]any){nil}}
	listForm         = form{name: "list"} // plain lists, of which there is nothing to say
)

// Strict refuses documents with fields that the program does not know. Tests set it: a field that was renamed without a
// way up is found.
var Strict = false

const versionMark = `{"v":`

// write makes a document.
func (f form) write(v any) (string, error) {
	raw, err := json.Marshal(v)
	if err != nil || len(f.up) == 0 || len(raw) < 2 || raw[0] != '{' {
		return string(raw), err
	}
	rest := string(raw[1:])
	if rest != "}" {
		rest = "," + rest
	}
	return versionMark + strconv.Itoa(len(f.up)) + rest, nil
}

// read reads a document of any version up to this program's. Nothing at all leaves what is there as it is.
func (f form) read(raw []byte, into any) error {
	if len(raw) == 0 {
		return nil
	}
	version := 0
	if rest, ok := bytes.CutPrefix(raw, []byte(versionMark)); ok {
		end := bytes.IndexAny(rest, ",}")
		n, err := strconv.Atoi(string(rest[:max(0, end)]))
		if err != nil {
			return fmt.Errorf("a %s that can't be read: %w", f.name, err)
		}
		if version = n; version > len(f.up) {
			return fmt.Errorf(
				"%w: a %s of form %d, where this program knows up to %d", ErrNewer, f.name, version, len(f.up),
			)
		}
		body := bytes.TrimPrefix(rest[end:], []byte(","))
		raw = append([]byte{'{'}, body...)
	}
	for _, up := range f.up[min(version, len(f.up)):] {
		if up == nil {
			continue
		}
		var doc map[string]any
		if err := json.Unmarshal(raw, &doc); err != nil {
			return fmt.Errorf("a %s that can't be read: %w", f.name, err)
		}
		up(doc)
		var err error
		if raw, err = json.Marshal(doc); err != nil {
			return err
		}
	}
	d := json.NewDecoder(bytes.NewReader(raw))
	if Strict {
		d.DisallowUnknownFields()
	}
	if err := d.Decode(into); err != nil {
		return fmt.Errorf("a %s that can't be read: %w", f.name, err)
	}
	return nil
}
