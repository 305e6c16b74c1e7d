// Package problem holds what a use case answers when it cannot do what it was asked for: what, where, and what would be accepted.
package problem

import (
	"errors"
	"fmt"
	"strings"
	"unicode/utf8"
)

// Errors that the store and the use cases share.
var (
	ErrNotFound = errors.New("not found")
	ErrChanged  = errors.New("changed by someone else meanwhile")
	ErrRepeated = errors.New("saved already")
)

// FieldError says which field is wrong and what would be accepted.
type FieldError struct{ Field, Reason, Accepted string }

func (e *FieldError) Error() string {
	s := e.Field + ": " + e.Reason
	if e.Accepted != "" {
		s += "; accepted: " + e.Accepted
	}
	return s
}

// NotFoundError names what was not found.
type NotFoundError struct{ Kind, ID, Accepted string }

func (e *NotFoundError) Error() string {
	s := fmt.Sprintf("no %s %q", e.Kind, e.ID)
	if e.Accepted != "" {
		s += "; accepted: " + e.Accepted
	}
	return s
}

func (e *NotFoundError) Unwrap() error { return ErrNotFound }

// StateError says that the case is not in a state for this.
type StateError struct{ Reason, Accepted string }

func (e *StateError) Error() string { return e.Reason + "; " + e.Accepted }

// Field is a FieldError.
func Field(field, reason, accepted string) error {
	if reason == `""` {
		reason = "nothing given" // an empty choice, quoted
	}
	return &FieldError{field, reason, accepted}
}

// NotFound is a NotFoundError.
func NotFound(kind, id, accepted string) error { return &NotFoundError{kind, id, accepted} }

// StorageError says that the data folder did not take something, and what to do. Nothing of it was saved.
type StorageError struct{ Reason, Do string }

func (e *StorageError) Error() string { return e.Reason + "; " + e.Do }

// Longest texts that are taken, in characters.
const (
	MaxWords = 1200
	MaxShort = 120
	MaxNote  = 2000
)

// CheckText refuses a text that is too long, no UTF-8, or empty where it is required; lengths are in characters.
func CheckText(field, text string, most int, required bool) error {
	if required && strings.TrimSpace(text) == "" {
		return &FieldError{field, "empty", "some text"}
	}
	if n := utf8.RuneCountInString(text); n > most {
		return &FieldError{field, fmt.Sprintf("%d characters", n), fmt.Sprintf("at most %d", most)}
	}
	if !utf8.ValidString(text) {
		return &FieldError{field, "not valid text", "UTF-8"}
	}
	return nil
}
