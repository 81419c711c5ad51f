/** Short, soft tones for in, hold, out, change and the other side; made here, nothing is loaded. */
import type { Schemas } from '../api/client'

type Cue = Schemas['CueView']
let audio: AudioContext | null = null

/** Sound needs a touch first; call this from one. */
export function wake(): void {
  audio ??= new AudioContext()
  void audio.resume()
}

function play(notes: number[], each = 0.14): void {
  if (!audio) return
  notes.forEach((hertz, i) => {
    const from = (audio as AudioContext).currentTime + i * each
    const oscillator = (audio as AudioContext).createOscillator()
    const gain = (audio as AudioContext).createGain()
    oscillator.type = 'sine'
    oscillator.frequency.value = hertz
    gain.gain.setValueAtTime(0, from)
    gain.gain.linearRampToValueAtTime(0.16, from + 0.02)
    gain.gain.exponentialRampToValueAtTime(0.001, from + each + 0.12)
    oscillator.connect(gain).connect((audio as AudioContext).destination)
    oscillator.start(from)
    oscillator.stop(from + each + 0.15)
  })
}

export function tone(cue: Cue, before: Cue | undefined): void {
  if (before && cue.side && before.side && cue.side !== before.side) return play([392, 523, 392])
  if (cue.beat === 'change') return play([523, 659, 784], 0.18)
  if (cue.beat === 'lead') return play([440])
  if (cue.beat === 'hold' || cue.beat === 'move') return play([587])
  if (cue.beat === 'release') return play([349])
  if (cue.beat === 'rest') return play([330, 294])
}
