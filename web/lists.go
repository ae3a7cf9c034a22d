package web

import (
	"cloudburst/store"
)

// PageQuery says which part of a list is wanted. Every list that grows ends somewhere, and goes on from there.
type PageQuery struct {
	After string `query:"after" maxLength:"400" doc:"Where the part before it ended; empty for the beginning"`
	Most  int    `query:"most" minimum:"1" maximum:"60" default:"30"`
	Away  bool   `query:"away" doc:"What was put away, instead of what is in use"`
}

func (q PageQuery) page() store.Page {
	return store.Page{After: q.After, Most: max(1, min(q.Most, 60)), Away: q.Away}
}

// eachOf makes cards of a part of a list.
func eachOf[T, C any](list store.Listed[T], card func(T) (C, error)) (store.Listed[C], error) {
	out := store.Listed[C]{Items: make([]C, 0, len(list.Items)), Next: list.Next}
	for _, t := range list.Items {
		c, err := card(t)
		if err != nil {
			return out, err
		}
		out.Items = append(out.Items, c)
	}
	return out, nil
}
