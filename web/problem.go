package web

import (
	"context"
	"database/sql"
	"database/sql/driver"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"log/slog"
	"net"
	"net/http"
	"strings"

	"github.com/danielgtaylor/huma/v2"
	"github.com/danielgtaylor/huma/v2/validation"
	"github.com/go-sql-driver/mysql"

	"cloudburst/core/measure"
	"cloudburst/store"
)

const (
	wentWrong = "Something went wrong here, not with you. Nothing was lost; try again."
	noAnswer  = "The database does not answer at the moment. Nothing was lost; it is tried again."
)

// Few and short: an answer never grows with what was sent, and never repeats it.
const (
	mostDetails = 6
	mostLetters = 240
)

// What the checks of a request say, as a maker would hear it at the bench.
func init() {
	validation.MsgUnexpectedProperty = "this is not known here; leave it out"
	validation.MsgExpectedBoolean = "yes or no belongs here (true or false)"
	validation.MsgExpectedNumber = "a number belongs here"
	validation.MsgExpectedInteger = "a whole number belongs here"
	validation.MsgExpectedString = "text belongs here"
	validation.MsgExpectedArray = "a list belongs here"
	validation.MsgExpectedObject = "a group of values belongs here"
	validation.MsgExpectedOneOf = "choose one of \"%s\""
	validation.MsgExpectedMinimumNumber = "this is too little; %v is the least that is taken"
	validation.MsgExpectedMaximumNumber = "this is too much; up to %v is taken"
	validation.MsgExpectedMinLength = "too little is written here: at least %d"
	validation.MsgExpectedMaxLength = "this is too long; up to %d letters are taken"
	validation.MsgExpectedMatchPattern = "this can't be read; it should look like %s"
	validation.MsgExpectedBePattern = "this is not %s"
	validation.MsgExpectedMinItems = "there is too little in this list; %d is the least"
	validation.MsgExpectedMaxItems = "there is too much in this list; up to %d are taken"
	validation.MsgExpectedRequiredProperty = "%s is missing"
	validation.MsgExpectedBase64String = "this can't be read"

	plain := func(status int, says string, errs ...error) huma.StatusError {
		p := &Problem{Code: codeOf(status)}
		p.Status, p.Title, p.Detail = status, http.StatusText(status), says
		for _, err := range errs {
			var has huma.ErrorDetailer
			switch {
			case err == nil:
			case errors.As(err, &has):
				p.Errors = append(p.Errors, has.ErrorDetail())
			default:
				p.Errors = append(p.Errors, &huma.ErrorDetail{Message: err.Error()})
			}
		}
		return p
	}
	huma.NewError = func(status int, says string, errs ...error) huma.StatusError {
		var whole huma.StatusError // said already, as a whole
		if says == "validation failed" && len(errs) > 0 && errors.As(errs[len(errs)-1], &whole) {
			return plain(whole.GetStatus(), whole.Error())
		}
		switch {
		case says == "cannot read request body": // cut off on its way
			status, says, errs = http.StatusBadRequest, "This did not arrive whole; send it again.", nil
		case status == http.StatusServiceUnavailable:
		case status >= 500:
			slog.Error(says, "errs", errs)
			says, errs = wentWrong, nil
		case status == http.StatusRequestEntityTooLarge:
			says, errs = tooLarge(says), nil
		case status == http.StatusUnsupportedMediaType:
			says, errs = "This is sent as a kind of file that is not taken here.", nil
		case says == "request body is required":
			says = "Nothing was sent; fill it in and send it again."
		case says == "request body read timeout":
			says = "This took too long to arrive; send it again."
		case says == "validation failed":
			says = "This can't be taken as it is; see what is said beside it."
		}
		return plain(status, short240(says), details(errs)...)
	}
}

// Problem is what is answered where something is refused or went wrong (RFC 9457), with a code that stays the same
// however the sentence is worded.
type Problem struct {
	huma.ErrorModel
	Code string `json:"code" doc:"Names the kind of problem: unreadable, invalid, ask, stale, in-the-way, not-found, not-allowed, foreign-page, foreign-name, key-used, too-large, no-such-kind, stopped, busy, no-database, unexpected" example:"stale"`
}

// codeOf is the kind of problem that a status is, where nothing more is known.
func codeOf(status int) string {
	switch status {
	case http.StatusBadRequest:
		return "unreadable"
	case http.StatusForbidden:
		return "foreign-page"
	case http.StatusMisdirectedRequest:
		return "foreign-name"
	case http.StatusNotFound:
		return "not-found"
	case http.StatusMethodNotAllowed:
		return "not-allowed"
	case http.StatusRequestTimeout:
		return "stopped"
	case http.StatusConflict:
		return "in-the-way"
	case http.StatusRequestEntityTooLarge:
		return "too-large"
	case http.StatusUnsupportedMediaType:
		return "no-such-kind"
	case http.StatusUnprocessableEntity:
		return "invalid"
	case http.StatusServiceUnavailable:
		return "busy"
	}
	return "unexpected"
}

// coded gives a problem a code of its own.
func coded(code string, err error) error {
	var p *Problem
	if errors.As(err, &p) {
		p.Code = code
	}
	return err
}

// refuse answers a request that does not get as far as an operation.
func refuse(w http.ResponseWriter, status int, code, says string) {
	p := &Problem{Code: code}
	p.Status, p.Title, p.Detail = status, http.StatusText(status), says
	w.Header().Set("Content-Type", "application/problem+json")
	w.WriteHeader(status)
	_ = json.NewEncoder(w).Encode(p)
}

func tooLarge(says string) string {
	limit := 0
	if _, of, ok := strings.Cut(says, "limit="); ok {
		_, _ = fmt.Sscan(of, &limit)
	}
	switch {
	case limit >= 1<<20:
		return fmt.Sprintf("This is larger than what is taken here: %d MB.", limit>>20)
	case limit > 0:
		return fmt.Sprintf("This is larger than what is taken here: %d kB.", limit>>10)
	}
	return "This is larger than what is taken here."
}

func details(errs []error) []error {
	out := make([]error, 0, min(len(errs), mostDetails))
	for _, err := range errs {
		if err == nil || len(out) == mostDetails {
			continue
		}
		d := huma.ErrorDetail{Message: err.Error()}
		var has huma.ErrorDetailer
		if errors.As(err, &has) {
			d = *has.ErrorDetail()
		}
		if asks, _ := d.Value.(string); asks != "ask" {
			d.Value = nil
		}
		d.Location, d.Message = short240(d.Location), plainly(d)
		out = append(out, &d)
	}
	return out
}

// plainly replaces what a decoder says by what a maker can do about it.
func plainly(d huma.ErrorDetail) string {
	switch m := d.Message; {
	case strings.HasPrefix(m, "required ") && strings.HasSuffix(m, "parameter is missing"):
		return "this is missing"
	case strings.HasPrefix(m, "invalid character"), strings.HasPrefix(m, "unexpected end of JSON"), strings.HasPrefix(m, "json:"),
		strings.HasPrefix(m, "invalid "), strings.HasPrefix(m, "strconv"), strings.Contains(m, "unknown content type"), strings.Contains(m, "cannot unmarshal"):
		return "this can't be read as it is; type it anew"
	default:
		return short240(m)
	}
}

func short240(s string) string {
	if r := []rune(s); len(r) > mostLetters {
		return string(r[:mostLetters-1]) + "…"
	}
	return s
}

// problem turns an error of core or store into an answer. stale says what to do when somebody else was faster.
func problem(err error, stale string) error {
	var f *measure.Fault
	var status huma.StatusError
	switch {
	case err == nil:
		return nil
	case errors.As(err, &status): // an answer already
		return err
	case errors.As(err, &f) && f.Ask:
		return coded(
			"ask", huma.Error409Conflict(
				f.Says, &huma.ErrorDetail{Location: "body." + f.Field, Message: f.Says, Value: "ask"},
			),
		)
	case errors.As(err, &f):
		return fieldProblem(f.Field, f.Says)
	case errors.Is(err, store.ErrWorkedOn):
		return huma.Error409Conflict("The other cup has been worked on since, so this can't be taken back. Pour the two together instead.")
	case errors.Is(err, store.ErrNotFound):
		return huma.Error404NotFound("This is not here, or no longer.")
	case errors.Is(err, store.ErrKeyUsed):
		return coded(
			"key-used",
			huma.Error422UnprocessableEntity("This was sent under a key that something else was sent under before; make a new key for each action."),
		)
	case errors.Is(err, store.ErrStale):
		return coded("stale", huma.Error409Conflict(stale))
	case errors.Is(err, store.ErrTooMany):
		return huma.Error422UnprocessableEntity("There is no room for more. Put one away first.")
	case errors.Is(err, context.Canceled): // nobody waits for the answer any more
		return huma.NewError(http.StatusRequestTimeout, "Stopped.")
	case errors.Is(err, errBusy):
		return huma.ErrorWithHeaders(
			huma.NewError(http.StatusServiceUnavailable, "Much is being worked out at once. Try again in a moment."),
			http.Header{"Retry-After": {"2"}},
		)
	case errors.Is(err, context.DeadlineExceeded):
		return huma.ErrorWithHeaders(
			huma.NewError(
				http.StatusServiceUnavailable,
				"This took too long and was stopped. Nothing was lost; try again in a moment.",
			),
			http.Header{"Retry-After": {"2"}},
		)
	case away(err):
		slog.Warn("the database does not answer", "err", err)
		return coded(
			"no-database",
			huma.ErrorWithHeaders(
				huma.NewError(http.StatusServiceUnavailable, noAnswer), http.Header{"Retry-After": {"1"}},
			),
		)
	}
	return huma.Error500InternalServerError("unexpected", err)
}

// away says whether an error means that the database is not there, or too busy, rather than that something is wrong
// with what was asked of it.
func away(err error) bool {
	var at net.Error
	var m *mysql.MySQLError
	switch {
	case errors.Is(err, driver.ErrBadConn), errors.Is(err, mysql.ErrInvalidConn), errors.As(err, &at),
		errors.Is(err, io.ErrUnexpectedEOF), errors.Is(err, io.EOF), errors.Is(err, sql.ErrConnDone), strings.Contains(
			err.Error(), "sql: database is closed",
		):
		return true
	case errors.As(err, &m):
		switch m.Number {
		case 1040, 1053, 1080, 1152, 1158, 1159, 1160, 1161, 1184, 1203, 1205, 1213, 1317, 1927, 1969:
			return true
		}
	}
	return false
}

func fieldProblem(field, says string) error {
	return huma.Error422UnprocessableEntity(says, &huma.ErrorDetail{Location: "body." + field, Message: says})
}
