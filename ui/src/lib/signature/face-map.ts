/** What the face map can show, and where each side stands on the screen. */
import art from './face-map.json'

export type Side = 'right' | 'left'
export type View = 'facing' | 'mirror' | 'behind'

/** How strongly each muscle is shown on each side of the client's own face, 0 to 1. */
export type Fills = Record<string, { right?: number; left?: number }>
/** Muscles under a lock or eased, on both sides alike. */
export type Holds = Record<string, 'lock' | 'ease'>

export type Drawn = { region: string; fibres: string; deep: boolean }

/** Muscles that a head without neck and shoulders leaves out. */
const NECK = [
  'trapezius',
  'scalenes',
  'platysma',
  'infrahyoids',
  'suprahyoids',
  'sternocleidomastoid',
  'suboccipitals',
  'tongue'
]

/** Whether any of these muscles needs the neck to be drawn. */
export const onNeck = (muscles: string[]) => muscles.some((m) => NECK.includes(m))

/** Muscles that only the view from behind shows. */
export const behindOnly = Object.keys(art.back.muscles).filter((m) => !(m in art.muscles))

/** The muscles drawn in a view, deepest first. */
export function drawn(view: View, headOnly: boolean): [string, Drawn][] {
  const muscles: Record<string, Drawn> = view === 'behind' ? art.back.muscles : art.muscles
  return Object.entries(muscles).filter(([name]) => !headOnly || !NECK.includes(name))
}

/**
 * Direction of each of the client's sides on the screen: 1 is the viewer's right. Facing you the client's left is at
 * your right; in a mirror and from behind the client's right is at your right.
 */
export function toward(view: View): Record<Side, 1 | -1> {
  return view === 'facing' ? { left: 1, right: -1 } : { left: -1, right: 1 }
}

export const VIEW_WORDS: Record<View, string> = {
  facing: 'facing you: the client’s right is at your left',
  mirror: 'as in a mirror: your right is at the right',
  behind: 'from behind: the client’s right is at your right'
}

export const NEXT_VIEW: Record<View, View> = { facing: 'mirror', mirror: 'behind', behind: 'facing' }
