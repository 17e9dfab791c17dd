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
  }): Promise<{ url: string; control: string; restartServer: () => Promise<void> }>
  stop(): void
}
