/** Short, soft tones: in, hold, out, rest, the next exercise and the other side each have their own. Made here; nothing
 * is loaded. */
import type { Cue } from './player.svelte'

let audio: AudioContext | null = null

/** Sound needs a touch first; call this from one. */
export function wake(): void {
  if (typeof AudioContext === 'undefined') return
  audio ??= new AudioContext()
  void audio.resume()
}

/** A few notes one after the other; each swells and fades, so that none startles. */
function play(notes: number[], each = 0.14, loud = 0.16): void {
  const out = audio
  if (!out) return
  notes.forEach((hertz, i) => {
    const from = out.currentTime + i * each
    const oscillator = out.createOscillator()
    const gain = out.createGain()
    oscillator.type = 'sine'
    oscillator.frequency.value = hertz
    gain.gain.setValueAtTime(0, from)
    gain.gain.linearRampToValueAtTime(loud, from + 0.03)
    gain.gain.exponentialRampToValueAtTime(0.001, from + each + 0.14)
    oscillator.connect(gain).connect(out.destination)
    oscillator.start(from)
    oscillator.stop(from + each + 0.16)
  })
}

export type Sound = 'side' | 'next' | 'in' | 'hold' | 'out' | 'rest' | 'end' | ''

/** What a cue asks to be heard, given the one before it. */
export function soundOf(cue: Cue, before: Cue | undefined): Sound {
  if (before && before.item === cue.item && cue.side && before.side && cue.side !== before.side) return 'side'
  if (cue.beat === 'change') return 'next'
  if (cue.beat === 'lead') return 'in'
  if (cue.beat === 'hold' || cue.beat === 'move') return 'hold'
  if (cue.beat === 'release') return 'out'
  if (cue.beat === 'rest' || cue.beat === 'settle') return 'rest'
  return ''
}

const NOTES: Record<Exclude<Sound, ''>, [number[], number]> = {
  side: [[392, 523, 392], 0.16],
  next: [[523, 659, 784], 0.18],
  in: [[440], 0.14],
  hold: [[587], 0.14],
  out: [[349], 0.18],
  rest: [[330, 294], 0.2],
  end: [[523, 659, 523, 392], 0.24]
}

/** A soft tick in the beat of a movement. */
export function tick(): void {
  play([660], 0.05, 0.05)
}

export function sound(which: Sound): void {
  if (which) play(...NOTES[which])
}

/** Short and different patterns, for hands that hold the phone; nothing on devices that cannot. */
const TREMBLE: Partial<Record<Sound, number[]>> = {
  side: [60, 80, 60],
  next: [120],
  hold: [30],
  out: [15, 60, 15],
  end: [200]
}

export function tremble(which: Sound): void {
  const pattern = TREMBLE[which]
  if (pattern && 'vibrate' in navigator) navigator.vibrate(pattern)
}
