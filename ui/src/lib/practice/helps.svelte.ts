/** How practice is helped: tones, voice, trembling, the mirror. Kept on this device. */
import type { Cue, Player } from './player.svelte'
import { spokenAloud } from './say'
import { sound, soundOf, tremble, type Sound } from './tones'

const KEY = 'dimbo-practice-helps'
export const helps = $state({ tones: true, voice: true, tremble: true, mirror: false })

export function recall(): void {
  const text = localStorage.getItem(KEY)
  if (text) Object.assign(helps, JSON.parse(text))
}

export function keep(): void {
  localStorage.setItem(KEY, JSON.stringify(helps))
}

export const hasVoice = () => 'speechSynthesis' in window && speechSynthesis.getVoices().length > 0

export function say(text: string): void {
  if (!helps.voice || !('speechSynthesis' in window)) return
  speechSynthesis.cancel()
  const words = new SpeechSynthesisUtterance(text)
  words.lang = 'en'
  words.rate = 0.95
  speechSynthesis.speak(words)
}

export function hush(): void {
  if ('speechSynthesis' in window) speechSynthesis.cancel()
}

/** Everything that is heard or felt of a cue. The voice says what the eyes, shut or without glasses, do not see: where the
 * hands go, the change of side, the direction, in and out of a breath. */
export function announce(player: Player, cue: Cue, before: Cue | undefined): void {
  const which: Sound = soundOf(cue, before)
  if (helps.tones) sound(which)
  if (helps.tremble) tremble(which)
  const item = player.itemOf(cue)
  if (!item) return
  const said = spokenAloud(cue, before, item)
  if (said) say(said)
}

/** The screen stays on while one practises; asked for again when the page comes back. */
export class Awake {
  private lock: WakeLockSentinel | null = null
  private wanted = false

  async hold(): Promise<void> {
    this.wanted = true
    try {
      this.lock = (await navigator.wakeLock?.request('screen')) ?? null
    } catch {
      this.lock = null // the screen may dim; practice goes on by its tones
    }
  }

  again = (): void => {
    if (this.wanted && document.visibilityState === 'visible') void this.hold()
  }

  release(): void {
    this.wanted = false
    void this.lock?.release()
  }
}
