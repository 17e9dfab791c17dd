import { beside } from '../parts/beside'
import { Alert, Button, Form, Segmented, Select } from 'antd'
import { useState } from 'react'
import { useNavigate, useSearchParams } from 'react-router'
import { describeAim, verdictWords } from '@bichroma/core/aims'
import { runKindNames, runKinds, stageLabels, whyNotShapable, type RunKind } from '@bichroma/core/runs'
import {
  profileFor,
  startRunSchema,
  validate,
  type Begins,
  type ChosenPatches,
  type DisplayDetail,
  type DisplayListing,
  type Instrument,
  type ProfilePolicy,
  type Slot,
  type StartRun as StartRunInput,
  type StoredAim,
  type StudioSettings,
} from '@bichroma/contract'
import { ask, type ApiProblem } from '../api/client'
import { useList } from '../api/lists'
import { useAims, useDisplay, useInstruments, useRooms, useSend, useSettings } from '../api/queries'
import { LightNotice } from '../parts/LightNotice'
import { allOf, Loaded } from '../parts/Loaded'
import { Plane } from '../parts/Plane'
import { formatDay } from '../parts/times'
import { Rack } from '../register/Rack'
import { HowMuch, type Effort } from './HowMuch'
import { whereNearest } from '../register/nearestInstrument'
import { OutlookTable } from './OutlookTable'
import { DisplayPicker } from '../parts/Picker'
import { ProfileChoice } from '../parts/ProfileChoice'
import { WhichPatches } from './WhichPatches'
import '../parts/sheet.css'
import './runs.css'

/** Chooses kind, display, slot and aim, and says what the run will overwrite and what it is likely to take. */
export function StartRun() {
  const [params] = useSearchParams()
  // Where nobody has said which: one whose courier is there, of the first few.
  const { items, empty } = useList<DisplayListing>('/displays', { limit: 50 })
  const asked = params.get('display')
  const id =
    asked !== null && /^[1-9][0-9]{0,9}$/.test(asked) ? Number(asked) : (items.find((d) => d.live) ?? items[0])?.id
  const display = useDisplay(id ?? null)
  const choices = allOf(useAims(), useSettings(), useInstruments())
  // What came later would push the button away from under a pointer.
  const all = allOf(display, choices, useRooms())
  if (id === undefined && !empty) return <div className="none">No display is in the register yet.</div>
  return (
    <Loaded query={all}>
      {([of, [aims, settings, instruments]]) => (
        <StartRunOf key={of.id} display={of} aims={aims} settings={settings} instruments={instruments} />
      )}
    </Loaded>
  )
}

/** When a run begins, in words. */
export const beginningWords: Readonly<Record<Begins, string>> = {
  now: 'at once',
  turn: 'in its turn',
  night: 'at night',
}

interface Choices {
  display: DisplayDetail
  aims: StoredAim[]
  settings: StudioSettings
  instruments: Instrument[]
}

function StartRunOf({ display, aims, settings, instruments }: Choices) {
  const [params, setParams] = useSearchParams()
  const navigate = useNavigate()
  const policy = profileFor(settings.profile, display.holds)
  const kind = runKindNames.find((k) => k === params.get('kind')) ?? 'full'
  const slot =
    display.slots.find((s) => s.number === Number(params.get('slot'))) ??
    display.slots.find((s) => s.active) ??
    display.slots[0]
  const [chosenAim, setChosenAim] = useState<number | null>(null)
  const [{ sampling, budget }, choose] = useState<Effort>({ sampling: 'usual', budget: null })
  const [begins, setBegins] = useState<Begins>('now')
  const [patches, setPatches] = useState<ChosenPatches>({ kind: 'plan', name: 'usual' })
  const [alsoSlots, setAlsoSlots] = useState<readonly number[]>([])
  const [chosenProfile, setChosenProfile] = useState<ProfilePolicy | null>(null)
  const [problem, setProblem] = useState<ApiProblem | null>(null)
  const start = useSend(
    async (inputs: readonly StartRunInput[]) => {
      const ids: number[] = []
      for (const input of inputs) {
        const body = validate(startRunSchema, input)
        ids.push((await ask<{ id: number }>('POST', '/runs', body)).id)
      }
      void navigate(inputs.length === 1 && inputs[0].begins === 'now' ? `/runs/${ids[0]}` : '/runs')
    },
    (refused) => setProblem(refused),
  )
  const set = (change: Record<string, string>) => {
    setProblem(null)
    setParams({ display: String(display.id), slot: String(slot.number), kind, ...change }, { replace: true })
  }
  const traits = runKinds[kind]
  const choosesAim = traits.aim === 'chosen' || (traits.aim === 'either' && !slot.aim)
  const aim =
    aims.find((a) => a.id === chosenAim) ??
    aims.find((a) => a.name === slot.label) ??
    aims.find((a) => !whyNotShapable(a.aim, display)) ??
    aims[0]
  const profile = chosenProfile ?? policy
  const slotsToRun = kind === 'check' ? [slot.number, ...alsoSlots.filter((n) => n !== slot.number)] : [slot.number]
  return (
    <>
      <div className="top">
        <div>
          <h1>Start a run</h1>
          <p>{traits.does}</p>
        </div>
      </div>
      <div className="split first" style={beside(486)}>
        <Plane style={{ padding: '14px 14px 16px' }}>
          <Form layout="vertical" className="start">
            <Form.Item label="Kind of run">
              <Segmented
                value={kind}
                onChange={(value) => set({ kind: value })}
                options={runKindNames.map((value) => ({ value, label: runKinds[value].label }))}
              />
            </Form.Item>
            <Form.Item label="Display" extra={<Where display={display} instruments={instruments} />}>
              <DisplayPicker
                value={display.id}
                known={{ value: display.id, label: `${display.name}, ${display.room.name}` }}
                onChange={(id) => setParams({ display: String(id), kind })}
              />
            </Form.Item>
            {choosesAim && (
              <Form.Item label={`Aim for slot ${slot.number}`} extra={aim && describeAim(aim.aim)}>
                <Select
                  aria-label="Aim"
                  value={aim?.id}
                  onChange={setChosenAim}
                  options={aims.map((a) => {
                    const why = traits.writes ? whyNotShapable(a.aim, display) : null
                    return { value: a.id, label: a.name, disabled: why !== null, title: why ?? undefined }
                  })}
                />
              </Form.Item>
            )}
            {kind === 'check' && (
              <WhichPatches
                patches={patches}
                onChoose={setPatches}
                slots={display.slots.filter((s) => s.label && s.number !== slot.number)}
                also={alsoSlots}
                onAlso={setAlsoSlots}
              />
            )}
            {kind === 'full' && <HowMuch {...{ sampling, budget }} onChange={choose} />}
            <Form.Item label="Begins" extra={begins === 'night' ? <NightWindow /> : undefined}>
              <Segmented<Begins>
                block
                value={begins}
                onChange={setBegins}
                options={(['now', 'turn', 'night'] as const).map((value) => ({ value, label: beginningWords[value] }))}
              />
            </Form.Item>
            {traits.writes && <ProfileChoice profile={profile} onChange={setChosenProfile} />}
          </Form>
          <LightNotice roomId={display.room.id} />
          <Overwrites slot={slot} kind={kind} />
          {problem && <Alert type="warning" title={problem.message} style={{ marginBottom: 12 }} role="alert" />}
          <Button
            type="primary"
            size="large"
            block
            loading={start.isPending}
            disabled={(traits.aim === 'slot' && !slot.label) || (choosesAim && !aim)}
            onClick={() =>
              start.mutate(
                slotsToRun.map((number, i) => ({
                  displayId: display.id,
                  kind,
                  slot: number,
                  // One after another: the display serves one run at a time.
                  begins: i > 0 && begins === 'now' ? ('turn' as const) : begins,
                  ...(kind === 'check' ? { patches } : {}),
                  ...(choosesAim ? { aimId: aim.id } : {}),
                  ...(kind === 'full' ? { overwrites: slot.label ?? '', ...(budget ? { budget } : { sampling }) } : {}),
                  ...(traits.writes && chosenProfile ? { profile: chosenProfile } : {}),
                })),
              )
            }
          >
            {slotsToRun.length > 1
              ? `${begins === 'now' ? 'Start' : 'Queue'} ${slotsToRun.length} check runs, slots ${slotsToRun.join(', ')}`
              : buttonWords(kind, slot, begins)}
          </Button>
          <p className="small quiet" style={{ marginTop: 10 }}>
            Stages: {traits.stages.map((s) => stageLabels[s]).join(', ')}.
          </p>
        </Plane>
        <div style={{ display: 'grid', gap: 14 }}>
          <Plane title={`Rack of ${display.name}`} aside="choose the slot">
            <Rack slots={display.slots} chosen={slot.number} onChoose={(number) => set({ slot: String(number) })} />
          </Plane>
          <OutlookTable
            displayId={display.id}
            chosen={{ kind, sampling: kind === 'full' && !budget ? sampling : null }}
            onChoose={(next) => {
              if (next.sampling) choose({ sampling: next.sampling, budget: null })
              set({ kind: next.kind })
            }}
          />
        </div>
      </div>
    </>
  )
}

function buttonWords(kind: RunKind, slot: Slot, begins: Begins): string {
  const { label, writes } = runKinds[kind]
  const name = kind === 'uniformity' ? 'uniformity run' : label.toLowerCase()
  const verb = begins === 'now' ? 'Start' : 'Queue'
  if (kind === 'full' && slot.label) return `${verb} ${name} and overwrite “${slot.label}”`
  return `${verb} ${name} ${writes && kind === 'full' ? 'into' : 'of'} slot ${slot.number}`
}

function NightWindow() {
  const night = useSettings().data?.night
  return (
    night && (
      <>
        Between {night.from} and {night.to}, once the workstation was left alone for {night.idleMinutes} minutes; it
        gives way when somebody sits down.
      </>
    )
  )
}

function Where({ display, instruments }: { display: DisplayDetail; instruments: Instrument[] }) {
  const { workstation } = display
  const here = instruments.filter((i) => i.workstationId === display.workstationId)
  return (
    <>
      On {workstation.name}, courier{' '}
      {workstation.courierOnline ? 'online' : <span className="asks">away: start it first</span>}.{' '}
      {workstation.courierOnline &&
        (here.length ? (
          `${here[0].model} ${here[0].serial} is plugged in.`
        ) : (
          <span className="asks">{whereNearest(display, instruments)}</span>
        ))}
    </>
  )
}

function Overwrites({ slot, kind }: { slot: Slot; kind: RunKind }) {
  const { writes, aim } = runKinds[kind]
  if (!writes)
    return (
      <p style={{ marginBottom: 12 }}>
        {slot.label
          ? `Slot ${slot.number} holds “${slot.label}”; ${kind === 'uniformity' ? 'white is shown through it' : 'it is judged by its own aim'}.`
          : aim === 'slot'
            ? `Slot ${slot.number} is empty; there is nothing to read.`
            : `Slot ${slot.number} is empty; the panel is judged by the aim chosen.`}
      </p>
    )
  if (!slot.label)
    return (
      <p style={{ marginBottom: 12 }}>
        {kind === 'full'
          ? slot.preset
            ? `Slot ${slot.number} holds the factory’s “${slot.preset}”, which comes back when the slot is emptied.`
            : `Slot ${slot.number} is empty; nothing is overwritten.`
          : `Slot ${slot.number} is empty; there is nothing to refresh.`}
      </p>
    )
  return (
    <p style={{ marginBottom: 12, borderLeft: '3px solid var(--ochre)', paddingLeft: 10 }}>
      Slot {slot.number} holds <b>“{slot.label}”</b>
      {slot.writtenAt !== null && `, written ${formatDay(slot.writtenAt)}`}
      {slot.writtenBy && ` by ${slot.writtenBy}`}
      {slot.judged && `, ${verdictWords[slot.judged.verdict]}`}. This run{' '}
      {kind === 'full' ? 'overwrites it' : 'writes it anew, with the same aim'}. Stopping the run puts it back.
    </p>
  )
}
