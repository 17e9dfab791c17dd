import { Checkbox, Form, Segmented } from 'antd'
import { checkPlanNames, checkPlans, type CheckPlan } from '@bichroma/core/runs'
import type { ChosenPatches, Slot } from '@bichroma/contract'
import { ChooseFile } from '../parts/ChooseFile'

/** Which patches a check reads, and which other slots are checked with them, one after the other. */
export function WhichPatches({
  patches,
  onChoose,
  slots,
  also,
  onAlso,
}: {
  patches: ChosenPatches
  onChoose: (patches: ChosenPatches) => void
  slots: readonly Slot[]
  also: readonly number[]
  onAlso: (slots: readonly number[]) => void
}) {
  return (
    <>
      <Form.Item
        label="Patches"
        extra={
          patches.kind === 'plan' ? (
            <>
              {checkPlans[patches.name].patches.length} patches: {checkPlans[patches.name].holds}.
            </>
          ) : (
            `From ${patches.fileName}; white and black are read in any case.`
          )
        }
      >
        <div style={{ display: 'flex', gap: 8 }}>
          <Segmented<CheckPlan | 'own'>
            aria-label="Patches"
            value={patches.kind === 'plan' ? patches.name : 'own'}
            onChange={(value) => value !== 'own' && onChoose({ kind: 'plan', name: value })}
            options={[
              ...checkPlanNames.map((value) => ({ value, label: String(checkPlans[value].patches.length) })),
              ...(patches.kind === 'own' ? [{ value: 'own' as const, label: 'own' }] : []),
            ]}
          />
          <ChooseFile
            label="List of patches of your own"
            accept=".txt,.ti1,.ti3,.cgats,.csv"
            onChoose={async (file) => onChoose({ kind: 'own', fileName: file.name, text: await file.text() })}
          >
            Own list
          </ChooseFile>
        </div>
      </Form.Item>
      {slots.length > 0 && (
        <Form.Item
          label="And then"
          extra={also.length ? 'Queued one after another, with the same patches.' : undefined}
        >
          <Checkbox.Group
            value={[...also]}
            onChange={(values) => onAlso(values.map(Number).sort((a, b) => a - b))}
            options={slots.map((s) => ({ value: s.number, label: `slot ${s.number}, ${s.label}` }))}
          />
        </Form.Item>
      )}
    </>
  )
}
