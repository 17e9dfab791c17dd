export class Processes {
  onFailure: (code: number) => void
  start(args: string[]): Promise<Record<string, string>>
  startDemo(options: {
    folder: string
    port: string
    pace: string
    web: string
  }): Promise<{ url: string; control: string }>
  stop(): void
}
