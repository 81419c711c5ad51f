/** The front camera as a mirror: shown flipped, neither recorded nor sent. */
export class Mirror {
  stream = $state<MediaStream | null>(null)
  problem = $state('')

  async open(): Promise<void> {
    this.problem = ''
    try {
      if (!navigator.mediaDevices) throw new Error('no camera')
      this.stream = await navigator.mediaDevices.getUserMedia({
        video: { facingMode: 'user', width: { ideal: 1280 } },
        audio: false
      })
    } catch {
      this.problem = 'The camera cannot be used here. A real mirror does as well.'
    }
  }

  close(): void {
    for (const track of this.stream?.getTracks() ?? []) track.stop()
    this.stream = null
  }
}
