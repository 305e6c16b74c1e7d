// Package recording reads what was recorded on a drive: tables as scan tools and loggers write them, of any layout. A Layout says how a
// table is written; Sniff finds it from the first lines, and whoever knows better changes it. A Table then gives row after row in bounded
// memory: seconds and one value for each channel, NaN where the table has none.
//
// Errors say the row, the byte at which it begins, what was wrong and what would be accepted. Nothing is guessed in silence: rows whose time
// repeats or goes back are left out and counted, gaps are told.
package recording
