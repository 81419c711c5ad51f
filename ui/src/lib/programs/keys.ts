/** The keys of the sheet, as the help lists them. */
export const KEYS: [string, string][] = [
  ['Arrows', 'move over the cells; with Shift they select a range'],
  ['any sign', 'types a dose; Enter keeps it, Esc leaves it'],
  ['Enter, F2', 'edit the dose that is there'],
  ['=', 'where a dose cannot be read: write what is offered instead'],
  ['Home, End', 'first and last week'],
  ['Ctrl →', 'fill right along the rungs'],
  ['Ctrl C, X, V', 'copy, cut and paste a range, to and from a spreadsheet'],
  ['Delete', 'rest in these weeks'],
  ['+', 'add an exercise by typing its name'],
  ['Shift Enter', 'the row: stage, time of day, days, sides, note, why it is here'],
  ['Alt ↑ ↓', 'move the row'],
  ['Shift Delete', 'take the row out'],
  ['Alt 1 … 9', 'take the remedy of that number in the margin'],
  ['Alt O', 'put all in order, with the reason for each place'],
  ['Alt L', 'put a lighter week in, or take it out'],
  ['Alt S', 'right, left, or both sides alike'],
  ['Alt R', 'gone through twice, three times, once: the selected rows as a circuit'],
  ['Alt F', 'flows on from the row above without a change-over, or not: the selected rows'],
  ['Ctrl Z, Ctrl Y', 'undo and redo, of everything'],
  ['?', 'this list']
]
