// Package unitsheet describes one design of transmission as data: members, tooth
// counts, elements, ranges, feeds, limits, fluid, access. A Sheet is what a file
// says, with quantities as written; Compile turns it into a Unit whose quantities are
// parsed, whose gear train is solved for every range, and whose declared outcomes agree
// with the solved ones. A sheet that contradicts itself is refused, with every
// problem named by its path in the file.
package unitsheet
