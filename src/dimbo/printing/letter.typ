// A letter. Everything it says comes in as data (letter.py); here is only how it lies on the paper.
#let made = json(bytes(sys.inputs.data))
#let ink = rgb("#1c1420")
#let soft = rgb("#4a4150")

#set document(title: made.title, author: made.author, date: datetime(
  year: made.at.at(0), month: made.at.at(1), day: made.at.at(2), hour: made.at.at(3), minute: made.at.at(4), second: made.at.at(5),
))
#set text(font: "DimboPaper-text", size: 10.5pt, fill: ink, lang: "en", region: "GB", hyphenate: false)
#set par(leading: 0.6em, spacing: 0.8em)
#set page(
  paper: made.paper,
  margin: (left: 26mm, right: 24mm, top: 22mm, bottom: 22mm),
  footer: context [
    #set text(size: 8pt, fill: soft)
    #grid(columns: (1fr, auto), made.author, [#counter(page).display() / #counter(page).final().first()])
  ],
)
#show heading: set text(weight: "bold", fill: ink)
#show heading.where(level: 1): set text(font: "Bricolage Grotesque 96pt", size: 17pt)
#show heading.where(level: 2): set text(size: 11.5pt)
#show heading.where(level: 1): set block(above: 0pt, below: 1em)
#show heading.where(level: 2): set block(above: 1.5em, below: 0.6em)

#text(fill: soft)[#made.author, #made.day]
#v(5mm)
= #made.title
#made.greeting

#for passage in made.passages {
  if passage.heading != "" { heading(level: 2, passage.heading) }
  for said in passage.paragraphs [#par(said)]
  for pair in passage.pairs {
    block(breakable: false, above: 0.9em, below: 0.9em)[
      #image(pair.file, width: 100%, alt: pair.alt)
      #for said in pair.sentences [#par(said)]
    ]
  }
}

#v(6mm)
#made.signed
