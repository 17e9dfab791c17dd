import { commands, validate, type CommandArgs, type CommandName, type CommandResult } from '@bichroma/contract'
import type { Contents } from './contents'
import { DeviceFault, type Devices } from './devices'

type Handlers = {
  [N in CommandName]: (args: CommandArgs<N>, onProgress: (done: number) => void) => Promise<CommandResult<N>>
}

/** Share of a write that is over once the display has taken it; the rest is reading it back. */
const written = 0.8

/** One handler per command of the protocol, on top of the three device interfaces. */
export function handlersFor(devices: Devices, contents: Pick<Contents, 'get' | 'put'>): Handlers {
  const display = (serial: string) => {
    const found = devices.displays.find((d) => d.identity.serial === serial)
    if (!found)
      throw new DeviceFault('no-display', `No display with serial ${serial} is connected to this workstation.`)
    return found
  }
  const instrument = (serial: string) => {
    const found = devices.instruments.find((i) => i.identity.serial === serial)
    if (!found)
      throw new DeviceFault(
        'no-instrument',
        `The instrument ${serial} is not plugged into this workstation. Plug it in.`,
      )
    return found
  }
  const slotState = async (serial: string, slot: number) => {
    const { label, bytes } = await display(serial).readSlot(slot)
    return { slot, label, hash: bytes && (await contents.put(bytes)) }
  }
  return {
    'display.showPatch': async ({ serial, rgb, area, waitMs }) => {
      await display(serial).showPatch([rgb[0], rgb[1], rgb[2]], area, waitMs)
      return {}
    },
    'display.readPatch': async ({ serial, instrument: reader, rgb, area, waitMs, correction }) => {
      const [shown, held] = [display(serial), instrument(reader)]
      await shown.showPatch([rgb[0], rgb[1], rgb[2]], area, waitMs)
      return held.read(serial, correction)
    },
    'display.showName': async ({ serial, lines, seconds }) => {
      await display(serial).showName(lines, seconds)
      return {}
    },
    'display.wake': async ({ serial, minutes }) => {
      await display(serial).wake(minutes)
      return {}
    },
    'display.getControls': ({ serial }) => display(serial).getControls(),
    'display.setControls': ({ serial, gains, ...change }) =>
      display(serial).setControls({ ...change, ...(gains && { gains: [gains[0], gains[1], gains[2]] }) }),
    'display.readSlot': ({ serial, slot }) => slotState(serial, slot),
    'display.writeSlot': async ({ serial, slot, label, hash }, onProgress) => {
      const bytes = hash ? await contents.get(hash) : null
      await display(serial).writeSlot(slot, label, bytes, (done) => onProgress(done * written))
      return slotState(serial, slot)
    },
    'display.activateSlot': ({ serial, slot }) => display(serial).activateSlot(slot),
    'instrument.identify': async () => ({ instruments: devices.instruments.map((i) => i.identity) }),
    'instrument.zero': async ({ serial }) => {
      await instrument(serial).zero()
      return {}
    },
    'instrument.read': ({ serial, display: shown, correction }) => {
      display(shown)
      return instrument(serial).read(shown, correction)
    },
    'instrument.readAmbient': ({ serial }) => instrument(serial).readAmbient(),
    'host.facts': () => devices.host.facts(),
    'host.placeProfile': async ({ display: serial, hash, fileName, scope, replaces, unbinds }) =>
      devices.host.placeProfile(display(serial).identity.serial, fileName, await contents.get(hash), scope, {
        replaces,
        unbinds,
      }),
    'host.bind': async ({ display: serial, associations }) => {
      // Also for one that was pulled: what it left behind is taken away.
      await devices.host.bind(serial, associations)
      return {}
    },
    'host.removeProfile': async ({ fileName, scope, hash }) => ({
      removed: await devices.host.removeProfile(fileName, scope, hash),
    }),
    'host.readBack': async () => {
      const bindings = await devices.host.listInForce()
      const told = await Promise.all(
        devices.displays
          .filter((d) => d.connected)
          .map(async (d) => ({
            serial: d.identity.serial,
            slot: await d.shownSlot(),
            curves: await d.curves(),
          })),
      )
      return {
        bindings,
        slots: told.flatMap(({ serial, slot }) => (slot === null ? [] : [{ serial, slot }])),
        loaders: told.flatMap(({ serial, curves }) => (curves === null ? [] : [{ serial, state: curves }])),
        programs: await devices.host.programs(),
      }
    },
    'host.loadCurves': async ({ display: serial }) => {
      await display(serial).loadCurves()
      return {}
    },
    'host.setProgram': async ({ program, ...change }) => {
      await devices.host.setProgram(program, change)
      return {}
    },
    'host.leaveNote': async ({ text }) => {
      await devices.host.leaveNote(text)
      return {}
    },
    'host.tellDesk': async ({ page, messages }) => {
      await devices.host.tellDesk(page, messages)
      return {}
    },
  }
}

/** Carries out one command of unchecked arguments. Throws {@link DeviceFault} or InvalidInput. */
export function runCommand(
  handlers: Handlers,
  name: CommandName,
  args: unknown,
  onProgress: (done: number) => void = () => {},
): Promise<unknown> {
  const checked = validate(commands[name].args, args)
  return (handlers[name] as (a: unknown, p: typeof onProgress) => Promise<unknown>)(checked, onProgress)
}
