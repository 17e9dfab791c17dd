import { managedPictures, type ManagedPictures } from '@bichroma/core/rollout'
import {
  hostConditionNames,
  loaderStates,
  nameField,
  numberField,
  tripleField,
  validate,
  yup,
  type HostCondition,
  type LoaderState,
} from '@bichroma/contract'
import type { Triple } from '@bichroma/core/color'
import type { SignalRange } from '@bichroma/core/tables'
import type { Bench } from '../bench'
import { deaths, type Death } from '../host/benchHost'

const on = () => yup.boolean().strict().required()
const display = () => nameField()
const instrument = () => nameField()
const workstation = () => nameField()
const whole = (least: number, most: number) => numberField().integer().min(least).max(most)

/** One thing that a person or a test can do to the bench. */
interface Fault {
  readonly group: 'Cables' | 'Instrument' | 'Display' | 'Room' | 'Workstation' | 'Line'
  /** What happens; for the bench panel and the documents. */
  readonly about: string
  readonly fields: yup.ObjectSchema<object>
  readonly act: (bench: Bench, value: never) => unknown
}

const fault = <T extends object>(
  group: Fault['group'],
  about: string,
  fields: yup.ObjectSchema<T>,
  act: (bench: Bench, value: T) => unknown,
): Fault => ({ group, about, fields: fields.noUnknown() as never, act: act as never })

/** Everything that can happen on demand, by name. Where there is an `on`, true causes it and false mends it. */
export const faults = {
  dataLink: fault(
    'Cables',
    'Pulls the data cable beside the video cable.',
    yup.object({ display: display(), on: on() }),
    (bench, v) => (bench.display(v.display).dataLink = !v.on),
  ),
  videoCable: fault(
    'Cables',
    'Pulls the video cable, or switches the display off.',
    yup.object({ display: display(), on: on() }),
    (bench, v) => (bench.display(v.display).connected = !v.on),
  ),
  unplugInstrument: fault(
    'Cables',
    'Pulls the instrument’s cable.',
    yup.object({ instrument: instrument(), on: on() }),
    (bench, v) => (bench.instrument(v.instrument).pluggedIn = !v.on),
  ),
  carry: fault(
    'Instrument',
    'Carries the instrument to a workstation and plugs it in there.',
    yup.object({ instrument: instrument(), workstation: workstation() }),
    (bench, v) => bench.carry(v.instrument, v.workstation),
  ),
  cover: fault(
    'Instrument',
    'Closes the cover over the lens.',
    yup.object({ instrument: instrument(), on: on() }),
    (bench, v) => (bench.instrument(v.instrument).covered = v.on),
  ),
  diffuser: fault(
    'Instrument',
    'Turns the diffuser in front of the lens.',
    yup.object({ instrument: instrument(), on: on() }),
    (bench, v) => {
      const puck = bench.instrument(v.instrument)
      puck.seat = { ...puck.seat, optics: v.on ? 'diffuser' : 'open' }
    },
  ),
  seat: fault(
    'Instrument',
    'Seats the instrument anew: x and y from −1 to 1 across the screen, tilt 0 (flat) to 1.',
    yup.object({
      instrument: instrument(),
      x: numberField().min(-1).max(1).required(),
      y: numberField().min(-1).max(1).required(),
      tilt: numberField().min(0).max(1).required(),
    }),
    (bench, v) => {
      const puck = bench.instrument(v.instrument)
      puck.seat = { ...puck.seat, place: { x: v.x, y: v.y }, tilt: v.tilt }
    },
  ),
  knock: fault(
    'Instrument',
    'Knocks the instrument aside, now or after so many more readings.',
    yup.object({ instrument: instrument(), afterReadings: whole(0, 100_000).optional() }),
    (bench, v) => bench.instrument(v.instrument).knock(v.afterReadings ?? 0),
  ),
  misread: fault(
    'Instrument',
    'Lets one reading go wrong, the next or after so many more.',
    yup.object({ instrument: instrument(), afterReadings: whole(0, 100_000).optional() }),
    (bench, v) => bench.instrument(v.instrument).misread(v.afterReadings ?? 0),
  ),
  buttons: fault(
    'Display',
    'Presses the display’s own buttons: slot, brightness, gains and offsets of red, green and blue, input range.',
    yup.object({
      display: display(),
      slot: whole(1, 8).optional(),
      backlight: whole(0, 1000).optional(),
      gains: tripleField(whole(0, 1000)).optional(),
      offsets: tripleField(whole(-20, 20)).optional(),
      inputRange: yup.string<SignalRange>().oneOf(['full', 'limited']).optional(),
    }),
    (bench, { display: serial, gains, offsets, ...rest }) =>
      bench.display(serial).press({
        ...rest,
        ...(gains && { gains: gains as unknown as Triple }),
        ...(offsets && { offsets: offsets as unknown as Triple }),
      }),
  ),
  dynamicContrast: fault(
    'Display',
    'Turns on dynamic contrast: the display dims dark pictures by itself.',
    yup.object({ display: display(), on: on() }),
    (bench, v) => bench.display(v.display).setDynamicContrast(v.on),
  ),
  powerCycle: fault('Display', 'Switches the display off and on.', yup.object({ display: display() }), (bench, v) =>
    bench.display(v.display).powerCycle(),
  ),
  sleep: fault(
    'Display',
    'Lets the display go to sleep, as one does that nobody uses.',
    yup.object({ display: display() }),
    (bench, v) => bench.display(v.display).sleep(),
  ),
  age: fault(
    'Display',
    'Lets the display have worked so many hours more.',
    yup.object({ display: display(), hours: numberField().min(0).max(100_000).required() }),
    (bench, v) => bench.display(v.display).age(v.hours),
  ),
  cutNextWrite: fault(
    'Display',
    'Breaks the data cable half-way through the next write of a slot.',
    yup.object({ display: display(), on: on() }),
    (bench, v) => (bench.display(v.display).next.cutWrite = v.on),
  ),
  damageNextWrite: fault(
    'Display',
    'Flips one bit of the next write of a slot on its way in.',
    yup.object({ display: display(), on: on() }),
    (bench, v) => (bench.display(v.display).next.damageWrite = v.on),
  ),
  corruptNextRead: fault(
    'Display',
    'Flips one bit of the next reading back of a slot on its way out.',
    yup.object({ display: display(), on: on() }),
    (bench, v) => (bench.display(v.display).next.corruptRead = v.on),
  ),
  roomLight: fault(
    'Room',
    'Changes the light of a room: its lamps, and what daylight adds at noon.',
    yup.object({
      room: nameField(),
      illuminanceLux: numberField().min(0).max(100_000).optional(),
      kelvin: numberField().min(1700).max(20_000).optional(),
      daylightLux: numberField().min(0).max(100_000).optional(),
    }),
    (bench, { room, daylightLux, ...lamps }) =>
      bench.setRoom(room, { ...lamps, ...(daylightLux !== undefined && { daylight: { lux: daylightLux } }) }),
  ),
  condition: fault(
    'Workstation',
    'Turns a setting on that ruins a run.',
    yup.object({
      workstation: workstation(),
      condition: yup
        .string<HostCondition>()
        .oneOf([...hostConditionNames])
        .required(),
      on: on(),
    }),
    (bench, v) => (bench.host(v.workstation).conditions[v.condition] = v.on),
  ),
  atWork: fault(
    'Workstation',
    'Somebody sits down at the workstation and works.',
    yup.object({ workstation: workstation(), on: on() }),
    (bench, v) => bench.host(v.workstation).attend(v.on),
  ),
  fillDisk: fault(
    'Workstation',
    'Fills the workstation’s disk.',
    yup.object({ workstation: workstation(), on: on() }),
    (bench, v) => (bench.host(v.workstation).diskFull = v.on),
  ),
  shiftClock: fault(
    'Workstation',
    'Sets the workstation’s clock off by so many minutes.',
    yup.object({ workstation: workstation(), minutes: numberField().min(-6e6).max(6e6).required() }),
    (bench, v) => (bench.host(v.workstation).clockShiftMs = v.minutes * 60_000),
  ),
  signOut: fault(
    'Workstation',
    'Signs the person at the workstation out and in again.',
    yup.object({ workstation: workstation() }),
    (bench, v) => bench.host(v.workstation).signOut(),
  ),
  restart: fault('Workstation', 'Restarts the workstation.', yup.object({ workstation: workstation() }), (bench, v) =>
    bench.host(v.workstation).restart(),
  ),
  readOnlyFolders: fault(
    'Workstation',
    'Makes the workstation’s folders of profiles read-only.',
    yup.object({ workstation: workstation(), on: on() }),
    (bench, v) => (bench.host(v.workstation).readOnly = v.on),
  ),
  cutNextFile: fault(
    'Workstation',
    'Loses half of the next profile that is written, without a word.',
    yup.object({ workstation: workstation(), on: on() }),
    (bench, v) => (bench.host(v.workstation).cutNextFile = v.on),
  ),
  courierDies: fault(
    'Workstation',
    'Kills the courier at the next placing of a profile; it is started again after so many seconds.',
    yup.object({
      workstation: workstation(),
      at: yup.string<Death>().oneOf(deaths).required(),
      seconds: numberField().min(0).max(86_400).required(),
    }),
    (bench, v) =>
      (bench.host(v.workstation).dies = {
        at: v.at,
        die: () => {
          bench.disconnect(v.workstation)
          setTimeout(() => bench.connect(v.workstation), v.seconds * 1000).unref()
        },
      }),
  ),
  deaf: fault(
    'Workstation',
    'The system tells its courier of no change.',
    yup.object({ workstation: workstation(), on: on() }),
    (bench, v) => (bench.host(v.workstation).deaf = v.on),
  ),
  unbindProfiles: fault(
    'Workstation',
    'Somebody takes every profile from a display.',
    yup.object({ workstation: workstation(), display: display() }),
    (bench, v) => bench.host(v.workstation).unbind(v.display),
  ),
  turnSwitch: fault(
    'Workstation',
    'Somebody turns the switches of a program.',
    yup.object({
      workstation: workstation(),
      program: nameField(),
      colorManagement: yup.string<ManagedPictures>().oneOf(managedPictures).optional(),
      version4: yup.boolean().strict().optional(),
    }),
    (bench, { workstation: name, program, ...change }) => bench.host(name).turnSwitch(program, change),
  ),
  loader: fault(
    'Display',
    'Turns the loader of the video card’s curves on or off, or loses the curves.',
    yup.object({ display: display(), state: yup.string<LoaderState>().oneOf(loaderStates).required() }),
    (bench, v) => bench.display(v.display).setLoader(v.state),
  ),
  plug: fault(
    'Cables',
    'Plugs the display into another workstation.',
    yup.object({ display: display(), workstation: workstation() }),
    (bench, v) => bench.plug(v.display, v.workstation),
  ),
  share: fault(
    'Cables',
    'Plugs the display into one more workstation, as a switch or a second cable does.',
    yup.object({ display: display(), workstation: workstation() }),
    (bench, v) => bench.share(v.display, v.workstation),
  ),
  showFrom: fault(
    'Display',
    'Switches a display that several workstations reach to the picture of one of them.',
    yup.object({ display: display(), workstation: workstation() }),
    (bench, v) => bench.showFrom(v.display, v.workstation),
  ),
  replaceProfile: fault(
    'Workstation',
    'Somebody, a game or an update binds another profile to a display.',
    yup.object({ workstation: workstation(), display: display(), by: nameField() }),
    (bench, v) => bench.host(v.workstation).replaceProfile(v.display, v.by),
  ),
  updateSystem: fault(
    'Workstation',
    'Updates the system: another version, evening tint and screen saver back on, everybody signed out.',
    yup.object({ workstation: workstation(), version: nameField() }),
    (bench, v) => bench.host(v.workstation).updateSystem(v.version),
  ),
  courierOffline: fault(
    'Line',
    'Takes the courier offline, for so many seconds or until it is mended.',
    yup.object({ workstation: workstation(), on: on(), seconds: numberField().min(0).max(86_400).optional() }),
    (bench, v) => {
      if (!v.on) return bench.connect(v.workstation)
      bench.disconnect(v.workstation)
      if (v.seconds !== undefined) setTimeout(() => bench.connect(v.workstation), v.seconds * 1000).unref()
    },
  ),
  lateAnswers: fault(
    'Line',
    'Makes the courier answer late by so many ms.',
    yup.object({ workstation: workstation(), ms: numberField().min(0).max(600_000).required() }),
    (bench, v) => bench.disturbLine(v.workstation, { lateMs: v.ms }),
  ),
  repeatedAnswers: fault(
    'Line',
    'Makes the courier give every answer so many times.',
    yup.object({ workstation: workstation(), times: whole(1, 5).required() }),
    (bench, v) => bench.disturbLine(v.workstation, { times: v.times }),
  ),
} satisfies Record<string, Fault>

export type FaultName = keyof typeof faults
export const faultNames = Object.keys(faults) as FaultName[]

/** Does one of the {@link faults} with unchecked values. Throws InvalidInput or RangeError with a sentence. */
export async function cause(bench: Bench, name: string, value: unknown): Promise<void> {
  if (!Object.hasOwn(faults, name))
    throw new RangeError(`There is no fault of that name. There are: ${faultNames.join(', ')}.`)
  const { fields, act } = faults[name as FaultName] as Fault
  await act(bench, validate(fields, value) as never)
}
