package store

import (
	"errors"
	"slices"
	"syscall"

	"github.com/mattn/go-sqlite3"

	"innercompass/internal/problem"
)

// Codes of SQLite (sqlite.org/rescode.html) that are told apart.
const (
	busy     = sqlite3.ErrNo(5)
	locked   = sqlite3.ErrNo(6)
	readOnly = sqlite3.ErrNo(8)
	ioFailed = sqlite3.ErrNo(10)
	corrupt  = sqlite3.ErrNo(11)
	full     = sqlite3.ErrNo(13)
	cantOpen = sqlite3.ErrNo(14)
	notADB   = sqlite3.ErrNo(26)
)

func code(err error, any ...sqlite3.ErrNo) bool {
	var e sqlite3.Error
	return errors.As(err, &e) && slices.Contains(any, e.Code)
}

// taken reports whether a row was refused because its key, or one that must be there once, is there already.
func taken(err error) bool {
	var e sqlite3.Error
	return errors.As(err, &e) && (e.ExtendedCode == sqlite3.ErrConstraintUnique || e.ExtendedCode == sqlite3.ErrConstraintPrimaryKey)
}

func isReadOnlyFS(err error) bool { return errors.Is(err, syscall.EROFS) }
func isNoSpace(err error) bool {
	return errors.Is(err, syscall.ENOSPC) || errors.Is(err, syscall.EDQUOT)
}

// told turns what a drive or a database refuses into an error that says what to do.
func told(err error) error {
	switch {
	case err == nil:
		return nil
	case code(err, full), isNoSpace(err):
		return &problem.StorageError{Reason: "the drive of the data folder is full", Do: "make room on it and try again"}
	case code(err, readOnly), isReadOnlyFS(err):
		return &problem.StorageError{Reason: "the data folder can no longer be written", Do: "make it writable, then start the app again"}
	case code(err, corrupt, notADB, ioFailed, cantOpen):
		return &problem.StorageError{Reason: "the data folder cannot be read as it should: " + err.Error(), Do: "stop the app, look after the drive, and put a backup back if it is damaged"}
	case code(err, busy, locked):
		return &problem.StorageError{Reason: "another program holds the database", Do: "stop that one and try again"}
	}
	return err
}
