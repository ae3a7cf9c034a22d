package testkit

import "os"

// Outside tells Go's cache of tests that what they run against counts, too: the server, the browser, the program that
// was built. ./test names them in a variable, and a test that has read one is run again when it changes.
func Outside() { _ = os.Getenv("CLOUDBURST_TESTED_WITH") }
