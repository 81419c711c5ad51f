// The hand-out of one week. Everything it says comes in as data (handout.py); here is only how it lies on the paper.
#let made = json(bytes(sys.inputs.data))
#let ink = rgb("#1c1420")
#let soft = rgb("#4a4150")
#let text-font = "DimboPaper-text"
#let head-font = "Bricolage Grotesque 96pt"
// Large print is half as large again, in one column.
#let sized(length) = if made.large { 1.5 * length } else { length }
#let strongly(body) = text(weight: "bold", body)

#set document(title: made.title, author: made.author, date: datetime(
  year: made.at.at(0), month: made.at.at(1), day: made.at.at(2), hour: made.at.at(3), minute: made.at.at(4), second: made.at.at(5),
))
#set text(font: text-font, size: sized(9.2pt), fill: ink, lang: "en", region: "GB", hyphenate: false)
#set par(leading: 0.52em, spacing: 0.62em)
#set page(
  paper: made.paper,
  margin: (x: 15mm, top: 14mm, bottom: 23mm),
  footer-descent: 5mm,
  footer: context [
    #set text(size: sized(7.8pt), fill: soft)
    #set par(leading: 0.45em)
    #grid(columns: (1fr, 12mm), column-gutter: 4mm, made.care, align(right + top)[#counter(page).display() / #counter(page).final().first()])
  ],
)
#show heading: set text(weight: "bold", fill: ink)
#show heading.where(level: 1): set text(font: head-font, size: sized(19pt))
#show heading.where(level: 2): set text(size: sized(11.5pt))
#show heading.where(level: 3): set text(size: sized(10.5pt))
#show heading: set block(above: 0pt, below: 0.55em)
#set enum(indent: 0pt, body-indent: 0.45em, spacing: 0.42em)

#let exercise(it) = block(breakable: false, width: 100%, above: 0pt, below: 8pt, inset: (top: 4pt), stroke: (top: 0.6pt + ink))[
  #grid(
    columns: (1fr, auto), column-gutter: 4pt,
    heading(level: 3)[#it.place. #it.name],
    align(right, text(size: sized(8.4pt), fill: soft)[#it.stage, #it.clock]),
  )
  #grid(
    columns: (auto, 1fr), column-gutter: 3mm, align: horizon,
    stack(dir: ltr, spacing: 1.5mm, ..it.figures.map(f => image(bytes(f.svg), format: "svg", height: sized(25mm), alt: f.alt))),
    [#strongly(text(size: sized(10pt), it.dose))
      #block(above: 0.7em, image(bytes(it.train), format: "svg", width: 100%, alt: it.drawn))],
  )
  #text(size: sized(8.4pt), fill: soft, it.how)
  #enum(..it.cues.map(cue => [#cue]))
  #set text(size: sized(8.4pt))
  #for said in it.said [#par[#if said.head != "" [#strongly(said.head) ]#said.text]]
]

= #made.heading
#strongly(made.client), #made.when
#if made.expectations != "" [#par(made.expectations)]
#for said in made.mind [#par[#strongly[Mind:] #said]]

#for session in made.sessions {
  block(above: 9pt, below: 6pt, heading(level: 2, session.heading))
  if made.large { session.items.map(exercise).join() } else { columns(2, gutter: 7mm, session.items.map(exercise).join()) }
}

#if made.habits.len() > 0 {
  block(above: 9pt, below: 6pt, heading(level: 2)[Through the day])
  for habit in made.habits [#par[#strongly(habit.at(0)), #habit.at(1). #habit.at(2)]]
}

#if made.course.len() > 0 {
  block(above: 9pt, below: 6pt, heading(level: 2)[Week by week])
  for row in made.course {
    block(breakable: false, width: 100%, above: 0pt, below: 6pt, inset: (top: 4pt), stroke: (top: 0.6pt + ink))[
      #heading(level: 3, row.name)
      #grid(
        columns: (34mm, 1fr), row-gutter: 0.5em, column-gutter: 3mm,
        ..row.weeks.map(w => (upper(w.at(0).first()) + w.at(0).slice(1), w.at(1))).flatten(),
      )
    ]
  }
}

#for sign in made.signs {
  block(breakable: false, above: 7pt, text(size: sized(8.4pt))[#strongly(sign.at(0)) #sign.at(1)])
}

#if made.tick.len() > 0 {
  pagebreak()
  heading(level: 2)[To tick, #made.tick_when]
  v(4mm)
  let head(body) = text(weight: "bold", body)
  table(
    columns: (1fr, ..range(7).map(_ => 17mm)),
    rows: auto,
    inset: sized(6pt),
    stroke: 0.6pt + ink,
    align: (col, row) => if col == 0 { left + horizon } else { center + horizon },
    table.header(head[What], ..range(1, 8).map(day => head[Day #day])),
    ..made.tick.map(row => (
      [#strongly(row.name)#linebreak()#text(size: sized(8.4pt), fill: soft, row.often)],
      ..range(7).map(_ => box(height: sized(9mm))),
    )).flatten(),
  )
  v(3mm)
  [A tick for what was done, a dash for what was not; both are worth knowing. Anything that hurt, with its day and place:]
  v(16mm)
  line(length: 100%, stroke: 0.6pt + ink)
  v(10mm)
  line(length: 100%, stroke: 0.6pt + ink)
}
