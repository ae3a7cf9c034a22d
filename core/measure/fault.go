package measure

import "fmt"

// Fault is what is wrong with an entry, at which field, in words that say what to do. With Ask it is a question: the
// same again, said to be sure, is taken.
type Fault struct {
	Field, Says string
	Ask         bool
}

func (f *Fault) Error() string { return f.Says }

// Faulty makes a Fault.
func Faulty(field, format string, args ...any) error {
	return &Fault{Field: field, Says: fmt.Sprintf(format, args...)}
}
