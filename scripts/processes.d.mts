export class Processes {
  onFailure: (code: number) => void
  start(args: string[]): Promise<Record<string, string>>
  startDemo(options: {
    folder: string
    port: string
    pace: string
    web: string
    /** A scenario file in place of the demo's studio. */
    scenario?: string
    /** Time on the bench passes by what is done alone. */
    counted?: boolean
  }): Promise<{ url: string; control: string; restartServer: () => Promise<void> }>
  stop(): void
}
