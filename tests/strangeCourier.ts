import WebSocket from 'ws'
import { courierProtocol, type CommandMessage, type CourierDisplay, type Hello } from '@bichroma/contract'
import { fenLantern } from '@bichroma/bench'
import { exampleControls, exampleDisplay, exampleHost, exampleInstrument } from '@bichroma/contract/test'
import { live } from './studio'

/** A courier of a test's own making, which answers as it is told. */
export class StrangeCourier {
  readonly asked: CommandMessage[] = []
  private readonly socket: WebSocket
  /** Resolves when the line is down. */
  readonly closed: Promise<void>

  constructor(
    url: string,
    key: string,
    private readonly answer: (command: CommandMessage, send: (message: unknown) => void) => void,
    change: Partial<CourierDisplay> = {},
  ) {
    this.socket = new WebSocket(`${url.replace('http', 'ws')}/courier`, { headers: { authorization: `Bearer ${key}` } })
    const { displays } = fenLantern.workstations.find((w) => w.host.name === live.workstation)!
    const { serial, panel } = displays[0]
    const hello: Hello = {
      type: 'hello',
      protocol: courierProtocol,
      host: { ...exampleHost, name: live.workstation },
      displays: [
        {
          ...exampleDisplay,
          serial,
          maker: panel.maker,
          model: panel.model,
          firmware: panel.firmware,
          slots: panel.tables.slots,
          panelKind: panel.light.source,
          ...change,
        },
      ],
      instruments: [{ ...exampleInstrument, serial: live.instrument }],
    }
    this.socket.on('error', () => {})
    this.closed = new Promise((resolve) => this.socket.on('close', () => resolve()))
    this.socket.on('open', () => this.socket.send(JSON.stringify(hello)))
    this.socket.on('message', (data) => {
      const command = JSON.parse(data.toString()) as CommandMessage
      this.asked.push(command)
      this.answer(command, (message) =>
        this.socket.send(typeof message === 'string' ? message : JSON.stringify(message)),
      )
    })
  }

  close() {
    this.socket.terminate()
  }
}

const controls = exampleControls
/** Right answers to what Ready asks. */
const values: Partial<Record<CommandMessage['name'], unknown>> = {
  'host.facts': exampleHost,
  'display.getControls': controls,
  'display.setControls': controls,
  'display.activateSlot': controls,
  'display.showPatch': {},
  'display.readSlot': { slot: 1, label: null, hash: null },
  'instrument.identify': { instruments: [{ ...exampleInstrument, serial: live.instrument }] },
  'instrument.zero': {},
  'instrument.read': { xyz: [95, 100, 108], integrationMs: 500, flags: [] },
  'display.readPatch': { xyz: [95, 100, 108], integrationMs: 500, flags: [] },
  'host.readBack': { bindings: [], slots: [], loaders: [], programs: [] },
}
/** The patch shown last: black is dark, and everything else the same light, as no display has it. */
let shown: readonly number[] = [0, 0, 0]
const valueOf = ({ name, args }: CommandMessage): unknown => {
  if (name === 'display.showPatch') shown = (args as { rgb: number[] }).rgb
  const dark = name === 'instrument.read' && shown.every((v) => v === 0)
  return dark ? { xyz: [0.05, 0.05, 0.06], integrationMs: 3000, flags: [] } : values[name]
}
export const good = (command: CommandMessage) => ({
  type: 'result',
  id: command.id,
  ok: true,
  tookMs: 10,
  value: valueOf(command),
})

/** A panel that a test makes up: its colours in cd/m² at full drive and control, and what it is set to. */
export interface PretendPanel {
  readonly red: readonly [number, number, number]
  readonly green: readonly [number, number, number]
  readonly blue: readonly [number, number, number]
  /** Share of its light at a setting of its control. */
  readonly control?: (backlight: number) => number
  backlight: number
}

/** Answers every command as a workstation with that panel on it would, without noise. */
export function answersOf(panel: PretendPanel): ConstructorParameters<typeof StrangeCourier>[2] {
  let rgb: readonly number[] = [0, 0, 0]
  let pipeline: 'slot' | 'bypass' = 'slot'
  let activeSlot = 1
  const held: { label: string | null; hash: string | null }[] = [{ label: null, hash: null }]
  const light = () => {
    const factor = panel.control?.(panel.backlight) ?? 1
    const drive = rgb.map((v) => v ** 2.2)
    return [0, 1, 2].map(
      (k) => 0.02 + factor * (drive[0] * panel.red[k] + drive[1] * panel.green[k] + drive[2] * panel.blue[k]),
    )
  }
  return (command, send) => {
    const args = command.args as Record<string, never>
    if ('rgb' in args) rgb = args.rgb
    if ('pipeline' in args) pipeline = args.pipeline
    if ('backlight' in args) panel.backlight = args.backlight
    if (command.name === 'display.activateSlot') activeSlot = args.slot
    const slot = Number(args.slot ?? 1)
    if (command.name === 'display.writeSlot') held[slot - 1] = { label: args.label, hash: args.hash }
    const controls = { ...exampleControls, backlight: panel.backlight, pipeline, activeSlot }
    const reading = { xyz: light(), integrationMs: 500, flags: [] }
    const values: Partial<Record<CommandMessage['name'], unknown>> = {
      'display.getControls': controls,
      'display.setControls': controls,
      'display.activateSlot': controls,
      'display.readSlot': { slot, ...(held[slot - 1] ?? { label: null, hash: null }) },
      'display.writeSlot': { slot, ...held[slot - 1] },
      'instrument.read': reading,
      'display.readPatch': reading,
    }
    send({ ...good(command), value: values[command.name] ?? good(command).value })
  }
}
