package web

import (
	"context"
	"errors"
	"log/slog"
	"net/http"

	"github.com/danielgtaylor/huma/v2"

	"cloudburst/core/recipe"
	"cloudburst/store"
)

// Errors go out as problem+json. A maker's slip names its field; what went wrong inside is logged, never told.
func init() {
	plain := huma.NewError
	huma.NewError = func(status int, says string, errs ...error) huma.StatusError {
		switch {
		case status >= 500:
			slog.Error(says, "errs", errs)
			says, errs = "Something went wrong here, not with you. Nothing was lost; try again.", nil
		case status == http.StatusRequestEntityTooLarge:
			says = "This is larger than what is taken: 20 MB for a photo, 1 MB for a recipe file."
		}
		return plain(status, says, errs...)
	}
}

// problem turns an error of core or store into an answer. stale says what to do when somebody else was faster.
func problem(err error, stale string) error {
	var f *recipe.Fault
	switch {
	case err == nil:
		return nil
	case errors.As(err, &f) && f.Ask:
		return huma.Error409Conflict(f.Says, &huma.ErrorDetail{Location: "body." + f.Field, Message: f.Says, Value: "ask"})
	case errors.As(err, &f):
		return fieldProblem(f.Field, f.Says)
	case errors.Is(err, store.ErrWorkedOn):
		return huma.Error409Conflict("The other cup has been worked on since, so this can't be taken back. Pour the two together instead.")
	case errors.Is(err, store.ErrNotFound):
		return huma.Error404NotFound("This is not here, or no longer.")
	case errors.Is(err, context.Canceled): // nobody waits for the answer any more
		return huma.NewError(http.StatusRequestTimeout, "Stopped.")
	case errors.Is(err, store.ErrStale):
		return huma.Error409Conflict(stale)
	case errors.Is(err, store.ErrTooMany):
		return huma.Error422UnprocessableEntity("There is no room for more. Remove one first.")
	}
	return huma.Error500InternalServerError("unexpected", err)
}

func fieldProblem(field, says string) error {
	return huma.Error422UnprocessableEntity(says, &huma.ErrorDetail{Location: "body." + field, Message: says})
}
