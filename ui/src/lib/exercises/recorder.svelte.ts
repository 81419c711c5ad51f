/** The camera recorded for a clip: at most a minute, with sound only where it is wanted. */

const GET_READY_S = 3

export class Recorder {
  stream = $state<MediaStream | null>(null)
  /** Seconds until it begins, then seconds that were recorded. */
  ready = $state(0)
  seconds = $state(0)
  running = $state(false)
  problem = $state('')
  private recorder: MediaRecorder | null = null
  private timer: ReturnType<typeof setInterval> | undefined
  private pieces: Blob[] = []

  /** `most` seconds at most; `done` gets the clip and its length. */
  constructor(
    private most: number,
    private done: (clip: Blob, seconds: number) => void
  ) {}

  async begin(sound: boolean): Promise<void> {
    this.problem = ''
    try {
      this.stream = await navigator.mediaDevices.getUserMedia({
        video: { facingMode: 'user', width: { ideal: 1280 }, height: { ideal: 720 } },
        audio: sound
      })
    } catch {
      this.problem = 'No camera answered. Allow it in the browser, or choose a file.'
      return
    }
    this.ready = GET_READY_S
    this.timer = setInterval(() => {
      if (--this.ready <= 0) this.record()
    }, 1000)
  }

  private record(): void {
    clearInterval(this.timer)
    if (!this.stream) return
    this.pieces = []
    this.recorder = new MediaRecorder(this.stream)
    this.recorder.ondataavailable = (e) => this.pieces.push(e.data)
    const from = performance.now()
    this.recorder.onstop = () => {
      const clip = new Blob(this.pieces, { type: this.recorder?.mimeType ?? 'video/webm' })
      const seconds = this.seconds
      this.leave()
      if (clip.size) this.done(clip, seconds)
    }
    this.recorder.start()
    this.running = true
    this.timer = setInterval(() => {
      this.seconds = (performance.now() - from) / 1000
      if (this.seconds >= this.most) this.stop()
    }, 100)
  }

  stop(): void {
    clearInterval(this.timer)
    if (this.recorder?.state === 'recording') this.recorder.stop()
    else this.leave()
  }

  /** Let the camera go; what was recorded and not stopped is dropped. */
  leave(): void {
    clearInterval(this.timer)
    if (this.recorder?.state === 'recording') {
      this.recorder.onstop = null
      this.recorder.stop()
    }
    this.stream?.getTracks().forEach((t) => t.stop())
    this.stream = null
    this.running = false
    this.ready = this.seconds = 0
  }
}
