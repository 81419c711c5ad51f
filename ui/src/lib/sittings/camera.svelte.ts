/** A camera, real or stand-in, with live checks that need no face detector: brightness, light from one side, tilt. */

export interface Live {
  /** Mean lightness of the picture's middle, 0 to 255. */
  bright: number
  /** Lightness of the client's left half over the right half, minus one. */
  light: number
  /** Degrees by which the device is turned in the picture's plane; null where it cannot tell. */
  tilt: number | null
}

const SAMPLE = { w: 64, h: 80 }
const EVERY_MS = 400

export class Camera {
  stream = $state<MediaStream | null>(null)
  problem = $state('')
  live = $state<Live | null>(null)
  kind = $state<'own' | 'stand-in' | 'none'>('none')
  facing = $state<'user' | 'environment'>('environment')
  /** The stand-in's newest picture. */
  frame = $state('')
  private shot = $state<Blob | null>(null)
  private timer: ReturnType<typeof setInterval> | undefined
  private tilt: number | null = null
  private canvas = document.createElement('canvas')
  private seed = Math.floor(Date.now() / 1000) % 1_000_000

  /** `base` is where the stand-in's pictures come from. */
  constructor(private base: string) {
    window.addEventListener('deviceorientation', this.turn)
  }

  private turn = (e: DeviceOrientationEvent) => {
    this.tilt = e.gamma === null ? null : e.gamma
  }

  /** Whether the preview is shown as in a mirror; what is kept never is. */
  get mirror(): boolean {
    return this.kind === 'own' && this.facing === 'user'
  }

  get ready(): boolean {
    return this.kind === 'own' ? this.stream !== null : this.shot !== null
  }

  async own(): Promise<void> {
    this.stop()
    try {
      this.stream = await navigator.mediaDevices.getUserMedia({
        video: { facingMode: this.facing, width: { ideal: 2560 }, height: { ideal: 1920 } },
        audio: false
      })
      this.kind = 'own'
      this.problem = ''
    } catch {
      this.problem = 'No camera answered. Allow it in the browser, or upload photographs instead.'
    }
  }

  async swap(): Promise<void> {
    this.facing = this.facing === 'user' ? 'environment' : 'user'
    await this.own()
  }

  async standIn(view: string): Promise<void> {
    this.stop()
    this.kind = 'stand-in'
    await this.refresh(view)
  }

  /** Another picture of the made-up face in this view. */
  async refresh(view: string): Promise<void> {
    this.seed += 1
    try {
      const answer = await fetch(`${this.base}/stand-in-shot.jpg?seed=${this.seed}&view=${view}`)
      if (!answer.ok) throw new Error()
      const old = this.frame
      this.shot = await answer.blob()
      this.frame = URL.createObjectURL(this.shot)
      if (old) URL.revokeObjectURL(old)
      this.problem = ''
    } catch {
      this.problem = 'The stand-in camera did not answer. Try again.'
    }
  }

  watch(source: () => HTMLVideoElement | HTMLImageElement | undefined): void {
    clearInterval(this.timer)
    this.timer = setInterval(() => {
      const from = source()
      if (from) this.measure(from)
    }, EVERY_MS)
  }

  private measure(from: HTMLVideoElement | HTMLImageElement): void {
    const pen = this.canvas.getContext('2d', { willReadFrequently: true })
    const ready = from instanceof HTMLVideoElement ? from.videoWidth : from.naturalWidth
    if (!pen || !ready) return
    this.canvas.width = SAMPLE.w
    this.canvas.height = SAMPLE.h
    pen.drawImage(from, 0, 0, SAMPLE.w, SAMPLE.h)
    const { data } = pen.getImageData(SAMPLE.w * 0.3, SAMPLE.h * 0.35, SAMPLE.w * 0.4, SAMPLE.h * 0.35)
    const wide = Math.floor(SAMPLE.w * 0.4)
    let right = 0
    let left = 0
    for (let i = 0; i < data.length; i += 4) {
      const l = 0.3 * (data[i] ?? 0) + 0.59 * (data[i + 1] ?? 0) + 0.11 * (data[i + 2] ?? 0)
      if ((i / 4) % wide < wide / 2) right += l
      else left += l
    }
    const n = data.length / 8
    this.live = { bright: (right + left) / (2 * n), light: left / Math.max(right, 1) - 1, tilt: this.tilt }
  }

  /** One photograph as a file, never mirrored. */
  async shoot(video: HTMLVideoElement | undefined, view: string): Promise<File | null> {
    const name = `${view} ${new Date().toTimeString().slice(0, 8).replaceAll(':', '-')}.jpg`
    if (this.kind === 'stand-in') {
      const blob = this.shot
      this.shot = null // not ready again before there is another picture
      void this.refresh(view)
      return blob && new File([blob], name, { type: 'image/jpeg' })
    }
    if (!video?.videoWidth) return null
    const canvas = document.createElement('canvas')
    canvas.width = video.videoWidth
    canvas.height = video.videoHeight
    canvas.getContext('2d')?.drawImage(video, 0, 0)
    const blob = await new Promise<Blob | null>((done) => canvas.toBlob(done, 'image/jpeg', 0.95))
    return blob && new File([blob], name, { type: 'image/jpeg', lastModified: Date.now() })
  }

  stop(): void {
    this.stream?.getTracks().forEach((t) => t.stop())
    this.stream = null
    this.kind = 'none'
  }

  end(): void {
    this.stop()
    clearInterval(this.timer)
    window.removeEventListener('deviceorientation', this.turn)
    if (this.frame) URL.revokeObjectURL(this.frame)
  }
}
