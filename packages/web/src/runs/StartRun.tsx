import { Alert, Button, Form, Segmented, Select } from 'antd'
import { useState } from 'react'
import { useNavigate, useSearchParams } from 'react-router'
import {
  describeAim,
  expectedReadings,
  runKindNames,
  runKinds,
  runProgress,
  samplingNames,
  shapeReadings,
  stageLabels,
  verdictWords,
  type RunKind,
  type Sampling,
} from '@bichroma/core'
import {
  startRunSchema,
  validate,
  type DisplaySummary,
  type Instrument,
  type Slot,
  type StartRun as StartRunInput,
  type StoredAim,
  type Workstation,
  type yup,
} from '@bichroma/contract'
import { ask, type ApiProblem } from '../api/client'
import { useAims, useDisplays, useInstruments, useSend, useWorkstations } from '../api/queries'
import { allOf, Loaded } from '../parts/Loaded'
import { Plane } from '../parts/Plane'
import { formatDay, formatLeft } from '../parts/times'
import { Rack } from '../register/Rack'

/** Chooses display, slot and aim, and says what the run will overwrite. */
export function StartRun() {
  return (
    <Loaded query={allOf(useDisplays(), useAims(), useWorkstations())}>
      {([displays, aims, workstations]) => <StartRunOf {...{ displays, aims, workstations }} />}
    </Loaded>
  )
}

function StartRunOf({
  displays,
  aims,
  workstations,
}: {
  displays: DisplaySummary[]
  aims: StoredAim[]
  workstations: Workstation[]
}) {
  const [params, setParams] = useSearchParams()
  const navigate = useNavigate()
  const instruments = useInstruments().data ?? []
  const display =
    displays.find((d) => d.id === Number(params.get('display'))) ?? displays.find((d) => d.live) ?? displays[0]
  const kind: RunKind = params.get('kind') === 'check' ? 'check' : 'full'
  const slot =
    display?.slots.find((s) => s.number === Number(params.get('slot'))) ??
    display?.slots.find((s) => s.active) ??
    display?.slots[0]
  const [chosenAim, setChosenAim] = useState<number | null>(null)
  const [sampling, setSampling] = useState<Sampling>('usual')
  const [problem, setProblem] = useState<ApiProblem | null>(null)
  const start = useSend(
    async (input: StartRunInput) => {
      const { id } = await ask<{ id: number }>(
        'POST',
        '/runs',
        validate(startRunSchema as yup.Schema<StartRunInput>, input),
      )
      void navigate(`/runs/${id}`)
    },
    (refused) => setProblem(refused),
  )
  if (!display || !slot) return <div className="none">No display is in the register yet.</div>
  const set = (change: Record<string, string>) => {
    setProblem(null)
    setParams({ display: String(display.id), slot: String(slot.number), kind, ...change }, { replace: true })
  }
  const aim = aims.find((a) => a.id === chosenAim) ?? aims.find((a) => a.name === slot.label) ?? aims[0]
  const workstation = workstations.find((w) => w.id === display.workstationId)
  // A slot with a matrix is shaped by its greys, whatever the sampling.
  const sampled = kind === 'full' && display.holds !== null && display.holds !== '1D+3x3'
  const shaping = sampled ? shapeReadings(display.holds!, sampling) : expectedReadings.shape
  const total = runKinds[kind].stages.reduce((sum, s) => sum + (s === 'shape' ? shaping : expectedReadings[s]), 0)
  return (
    <>
      <div className="top">
        <div>
          <h1>Start a run</h1>
          <p>
            {kind === 'full'
              ? 'Brings a slot to its aim, proves it and files a profile.'
              : 'Reads what a slot shows now and judges it; writes nothing.'}
          </p>
        </div>
      </div>
      <div className="split" style={{ gridTemplateColumns: '380px minmax(0,1fr)' }}>
        <Plane style={{ padding: '14px 14px 16px' }}>
          <Form layout="vertical">
            <Form.Item label="Kind of run">
              <Segmented
                block
                value={kind}
                onChange={(value) => set({ kind: value })}
                options={runKindNames.map((value) => ({ value, label: runKinds[value].label }))}
              />
            </Form.Item>
            {sampled && (
              <Form.Item label="Sampling">
                <Segmented
                  block
                  value={sampling}
                  onChange={setSampling}
                  options={samplingNames.map((value) => ({ value, label: value }))}
                />
              </Form.Item>
            )}
            <Form.Item
              label="Display"
              extra={<Where display={display} workstation={workstation} instruments={instruments} />}
            >
              <Select
                aria-label="Display"
                showSearch={{ optionFilterProp: 'label' }}
                value={display.id}
                onChange={(id) => setParams({ display: String(id), kind })}
                options={displays.map((d) => ({ value: d.id, label: `${d.name}${d.live ? '' : ', courier away'}` }))}
              />
            </Form.Item>
            {kind === 'full' && (
              <Form.Item label={`Aim for slot ${slot.number}`} extra={aim && describeAim(aim.aim)}>
                <Select
                  aria-label="Aim"
                  value={aim?.id}
                  onChange={setChosenAim}
                  options={aims.map((a) => ({ value: a.id, label: a.name }))}
                />
              </Form.Item>
            )}
          </Form>
          <Overwrites slot={slot} kind={kind} />
          {problem && <Alert type="warning" title={problem.message} style={{ marginBottom: 12 }} role="alert" />}
          <Button
            type="primary"
            size="large"
            block
            loading={start.isPending}
            disabled={(kind === 'check' && !slot.label) || (kind === 'full' && !aim)}
            onClick={() =>
              start.mutate({
                displayId: display.id,
                kind,
                slot: slot.number,
                ...(kind === 'full' ? { aimId: aim.id, overwrites: slot.label ?? '' } : {}),
                ...(sampled ? { sampling } : {}),
              })
            }
          >
            {kind === 'check'
              ? `Start check run of slot ${slot.number}`
              : slot.label
                ? `Start full run and overwrite “${slot.label}”`
                : `Start full run into slot ${slot.number}`}
          </Button>
          <p className="small quiet" style={{ marginTop: 10 }}>
            About {total} readings, {formatLeft(runProgress(kind, 'ready', 0, [], shaping).secondsLeft)} at 1.6 s a
            reading; the run itself measures its pace. Stages:{' '}
            {runKinds[kind].stages.map((s) => stageLabels[s]).join(', ')}.
          </p>
        </Plane>
        <Plane title={`Rack of ${display.name}`} aside="choose the slot">
          <Rack slots={display.slots} chosen={slot.number} onChoose={(number) => set({ slot: String(number) })} />
        </Plane>
      </div>
    </>
  )
}

function Where({
  display,
  workstation,
  instruments,
}: {
  display: DisplaySummary
  workstation: Workstation | undefined
  instruments: Instrument[]
}) {
  const here = instruments.filter((i) => i.workstationId === display.workstationId)
  return (
    <>
      On {workstation?.name}, courier{' '}
      {workstation?.courierOnline ? 'online' : <span className="asks">away: start it first</span>}.{' '}
      {workstation?.courierOnline &&
        (here.length ? (
          `${here[0].model} ${here[0].serial} is plugged in.`
        ) : (
          <span className="asks">No instrument is plugged in there.</span>
        ))}
    </>
  )
}

function Overwrites({ slot, kind }: { slot: Slot; kind: RunKind }) {
  if (kind === 'check')
    return (
      <p style={{ marginBottom: 12 }}>
        {slot.label
          ? `Slot ${slot.number} holds “${slot.label}”; it is judged by its own aim.`
          : `Slot ${slot.number} is empty; there is nothing to check.`}
      </p>
    )
  if (!slot.label) return <p style={{ marginBottom: 12 }}>Slot {slot.number} is empty; nothing is overwritten.</p>
  return (
    <p style={{ marginBottom: 12, borderLeft: '3px solid var(--ochre)', paddingLeft: 10 }}>
      Slot {slot.number} holds <b>“{slot.label}”</b>
      {slot.writtenAt !== null && `, written ${formatDay(slot.writtenAt)}`}
      {slot.judged && `, ${verdictWords[slot.judged.verdict]}`}. This run overwrites it. Stopping the run puts it back.
    </p>
  )
}
