import type { yup } from '@bichroma/contract'
import type { Bench } from '../bench'
import { faultNames, faults } from './faults'

const escape = (text: unknown) =>
  String(text).replaceAll(/[&<>"]/g, (c) => ({ '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' })[c]!)

interface FieldDescription {
  readonly type: string
  readonly oneOf?: readonly unknown[]
  readonly optional?: boolean
}

/** One input of a form, by what its field takes. */
function input(
  name: string,
  { type, oneOf = [], optional }: FieldDescription,
  known: Record<string, string[]>,
): string {
  const label = `<span>${escape(name)}${optional ? ' (if any)' : ''}</span>`
  const choices = known[name] ?? oneOf
  const attributes = `name="${escape(name)}" data-type="${type}"`
  if (type === 'boolean')
    return `<label>${label}<select ${attributes}><option value="true">cause</option><option value="false">mend</option></select></label>`
  if (choices.length)
    return `<label>${label}<select ${attributes}>${optional ? '<option value=""></option>' : ''}${choices.map((c) => `<option>${escape(c)}</option>`).join('')}</select></label>`
  const hint = type === 'array' ? ' placeholder="100, 100, 100"' : ''
  return `<label>${label}<input ${attributes}${hint} size="${type === 'string' ? 14 : 9}"></label>`
}

const style = `
body { margin: 0; padding: 12px 16px 48px; font: 13px/1.5 monospace; background: #e9e9e9; color: #111 }
h1 { font-size: 15px; margin: 0 } h2 { font-size: 13px; margin: 18px 0 4px; border-bottom: 1px solid #777 }
p { margin: 4px 0 } .stand-in { background: #111; color: #fff; padding: 6px 10px }
form { display: flex; flex-wrap: wrap; gap: 6px 10px; align-items: end; padding: 4px 0 }
form > b { flex: 0 0 130px } form > i { flex: 1 0 100%; font-style: normal; color: #444 }
label { display: grid } label span { color: #444; font-size: 11px } input, select, button { font: inherit }
table { border-collapse: collapse; width: 100% } td, th { text-align: left; vertical-align: top; padding: 1px 10px 1px 0; border-bottom: 1px solid #bbb; font-weight: normal } th { color: #444 }
#said { position: fixed; left: 0; right: 0; bottom: 0; margin: 0; background: #111; color: #fff; padding: 8px 16px; min-height: 20px }`

const script = `
document.addEventListener('submit', async (event) => {
  event.preventDefault()
  const form = event.target
  const body = {}
  for (const field of form.elements) {
    if (!field.name || field.value === '') continue
    const type = field.dataset.type
    body[field.name] = type === 'number' ? Number(field.value) : type === 'boolean' ? field.value === 'true'
      : type === 'array' ? field.value.split(',').map(Number) : field.value
  }
  const said = document.getElementById('said')
  try {
    const response = await fetch('/faults/' + form.dataset.fault, {
      method: 'POST', headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) })
    said.textContent = response.ok ? form.dataset.fault + ' done: ' + JSON.stringify(body) : (await response.json()).detail
    if (response.ok) await refresh()
  } catch { said.textContent = 'The bench does not answer. Start it again.' }
})
async function refresh() {
  const text = await (await fetch('/')).text()
  const fresh = new DOMParser().parseFromString(text, 'text/html')
  document.getElementById('state').replaceWith(fresh.getElementById('state'))
}`

function stateTable(bench: Bench): string {
  const { rooms, workstations, instruments } = bench.overview()
  const rows = workstations.flatMap((w) => {
    const ruinous = Object.entries(w.conditions).filter(([, on]) => on)
    const host = [
      w.online ? 'online' : 'offline',
      ...ruinous.map(([name]) => name),
      ...(w.diskFull ? ['disk full'] : []),
      ...(w.clockShiftMinutes ? [`clock ${w.clockShiftMinutes} min off`] : []),
      ...(w.lateMs ? [`answers ${w.lateMs} ms late`] : []),
      ...(w.times > 1 ? [`answers ${w.times} times`] : []),
    ]
    return w.displays.map(
      (d, i) =>
        `<tr><td>${i ? '' : escape(w.room)}</td><td>${i ? '' : `${escape(w.name)} · ${escape(w.operatingSystem)} ${escape(w.systemVersion)}`}</td><td>${i ? '' : escape(host.join(', '))}</td><td>${escape(d.model)} ${escape(d.serial)}</td><td>${escape(
          [
            `slot ${d.activeSlot} of ${d.slots.length}: ${d.slots[d.activeSlot - 1].label ?? 'empty'}`,
            `brightness ${d.slots[d.activeSlot - 1].backlight}`,
            `${d.inputRange} range`,
            ...(d.connected ? [] : ['off']),
            ...(d.dataLink ? [] : ['no data cable']),
            ...(d.dynamicContrast ? ['dynamic contrast'] : []),
          ].join(', '),
        )}</td><td>${i ? '' : escape(w.instruments.join(', '))}</td></tr>`,
    )
  })
  const lights = rooms.map((r) => `${r.name} ${r.illuminanceLux} lx, ${r.kelvin} K`)
  const seats = instruments.map(
    (p) =>
      `${p.serial} ${p.pluggedIn ? '' : 'unplugged, '}${p.seat.optics}, tilt ${p.seat.tilt}, at ${p.seat.place.x} ${p.seat.place.y}`,
  )
  return `<div id="state"><h2>How everything stands</h2><p>${escape(lights.join(' · '))}</p><p>${escape(seats.join(' · '))}</p>
<table><tr><th>room</th><th>workstation</th><th>courier, settings</th><th>display</th><th>as it stands</th><th>instruments</th></tr>${rows.join('')}</table></div>`
}

/** The bench panel: a plain page, clearly a stand-in and no part of the product, with a form for every fault. */
export function benchPanelPage(bench: Bench): string {
  const { rooms, workstations, instruments } = bench.overview()
  const known = {
    display: workstations.flatMap((w) => w.displays.map((d) => d.serial)),
    instrument: instruments.map((i) => i.serial),
    workstation: workstations.map((w) => w.name),
    room: rooms.map((r) => r.name),
  }
  const groups = [...new Set(faultNames.map((name) => faults[name].group))]
  const forms = groups.map((group) => {
    const inside = faultNames
      .filter((name) => faults[name].group === group)
      .map((name) => {
        const { fields } = (faults[name].fields as yup.AnySchema).describe() as unknown as {
          fields: Record<string, FieldDescription>
        }
        const inputs = Object.entries(fields).map(([field, description]) => input(field, description, known))
        return `<form data-fault="${name}"><i>${escape(faults[name].about)}</i><b>${name}</b>${inputs.join('')}<button>Do it</button></form>`
      })
    return `<h2>${group}</h2>${inside.join('')}`
  })
  return `<!doctype html><html lang="en"><meta charset="utf-8"><title>Bench panel</title><style>${style}</style>
<p class="stand-in">Bench panel: hands for the simulated displays, instruments and workstations. Not part of Bichroma.</p>
${stateTable(bench)}${forms.join('')}<p id="said" role="status">Nothing done yet.</p><script>${script}</script></html>`
}
