import type { ReactNode } from 'react'
import type { Ask } from '@bichroma/core/runs'

/** A display from the front, its stand below it. */
const Display = ({ x = 60, y = 28, width = 200, height = 122 }) => (
  <>
    <rect x={x} y={y} width={width} height={height} rx="4" />
    <rect x={x + 7} y={y + 7} width={width - 14} height={height - 14} className="quietline" />
    <path
      d={`M${x + width / 2 - 12} ${y + height}v22M${x + width / 2 + 12} ${y + height}v22M${x + width / 2 - 38} ${y + height + 22}h76`}
    />
  </>
)

/** The instrument from the front: a rounded body with its eye, on its strap. */
const Instrument = ({ x, y, on = false }: { x: number; y: number; on?: boolean }) => (
  <g className={on ? 'act' : undefined}>
    <rect x={x - 19} y={y - 24} width="38" height="48" rx="12" className="solid" />
    <circle cx={x} cy={y + 6} r="8" />
    <path d={`M${x - 7} ${y - 12}h14`} />
  </g>
)

/** A workstation beside the desk. */
const Workstation = ({ x, y }: { x: number; y: number }) => (
  <>
    <rect x={x} y={y} width="52" height="96" rx="3" />
    <path d={`M${x + 10} ${y + 14}h32M${x + 10} ${y + 24}h32`} className="quietline" />
    <circle cx={x + 26} cy={y + 78} r="5" className="quietline" />
  </>
)

/** An arrow's head at a place, pointing by so many degrees. */
const Head = ({ x, y, turn = 0 }: { x: number; y: number; turn?: number }) => (
  <path d="M-7 -6L4 0L-7 6" transform={`translate(${x} ${y}) rotate(${turn})`} className="act" />
)

const drawings: Readonly<Record<Ask, ReactNode>> = {
  cover: (
    <>
      <rect x="96" y="84" width="92" height="56" rx="16" />
      <circle cx="176" cy="112" r="11" />
      <path d="M188 90v44" className="quietline" />
      <g className="act">
        <path d="M190 84l46 -34M236 50l9 12l-46 34" />
        <path d="M206 134a62 62 0 0 0 44 -50" strokeDasharray="5 5" />
      </g>
      <Head x={250} y={82} turn={-80} />
      <path d="M96 112h-36" className="quietline" />
    </>
  ),
  seat: (
    <>
      <Display x={30} width={170} height={112} />
      <path d="M115 28V12M115 12c-14 0 -14 16 -14 16" className="quietline" />
      <path d="M115 28v36" className="act" />
      <Instrument x={115} y={88} on />
      <path d="M37 84h52M141 84h52M115 114v20" className="quietline" strokeDasharray="3 4" />
      {/* From the side: the display tilted back, the instrument flat on its glass. */}
      <path d="M252 150L238 42L246 41L260 149z" />
      <path d="M256 150l4 22M236 172h52" />
      <g className="act">
        <path d="M243 78l-12 1.5l4 32l12 -1.5" />
        <path d="M262 56a60 60 0 0 1 16 8" strokeDasharray="4 4" />
      </g>
      <Head x={280} y={66} turn={30} />
    </>
  ),
  cable: (
    <>
      <Display />
      <rect x="118" y="118" width="28" height="14" rx="2" />
      <rect x="174" y="118" width="28" height="14" rx="2" className="act" />
      <path d="M132 132v20c0 40 -70 20 -70 58" className="quietline" />
      <g className="act">
        <path d="M188 196v14" />
        <rect x="178" y="166" width="20" height="30" rx="3" />
        <path d="M183 166v-10h10v10" />
      </g>
      <Head x={188} y={142} turn={-90} />
    </>
  ),
  instrument: (
    <>
      <Workstation x={56} y={70} />
      <rect x="100" y="122" width="12" height="18" rx="2" className="act" />
      <path d="M150 131h42c30 0 20 -40 52 -40" className="act" />
      <path d="M150 122v18h-14v-18zM136 126h-8M136 136h-8" className="act" />
      <Head x={122} y={131} turn={180} />
      <Instrument x={262} y={92} />
    </>
  ),
  display: (
    <>
      <Display />
      <g className="act">
        <path d="M146 80a22 22 0 1 0 28 0" />
        <path d="M160 66v26" />
      </g>
      <path d="M250 190c-30 0 -46 -8 -46 -40" className="quietline" />
    </>
  ),
  courier: (
    <>
      <Workstation x={66} y={60} />
      <g className="act">
        <path d="M128 108c34 -34 62 -34 96 0" strokeDasharray="6 6" />
        <circle cx="92" cy="138" r="5" fill="var(--ochre)" />
      </g>
      <Head x={224} y={108} turn={48} />
      <rect x="214" y="118" width="64" height="44" rx="3" />
      <path d="M214 132h64" className="quietline" />
    </>
  ),
  settings: (
    <>
      <rect x="52" y="26" width="216" height="160" rx="4" />
      <path d="M52 50h216" className="quietline" />
      {[76, 108, 140].map((y, i) => (
        <g key={y}>
          <path d={`M74 ${y}h${[84, 62, 96][i]}`} className="quietline" />
          <rect x="206" y={y - 10} width="40" height="20" rx="10" className={i === 1 ? 'act' : undefined} />
          <circle cx={i === 1 ? 216 : 236} cy={y} r="6" className={i === 1 ? 'act' : undefined} />
        </g>
      ))}
      <g className="act">
        <path d="M130 206c18 -22 42 -22 60 0c-18 22 -42 22 -60 0z" className="solid" />
        <circle cx="160" cy="206" r="7" />
      </g>
    </>
  ),
  rest: (
    <>
      <path d="M52 24v156h220" />
      <path d="M52 92h216" className="quietline" strokeDasharray="4 5" />
      <path d="M60 166C84 20 104 60 124 86S150 106 172 96S210 90 262 92" className="act" />
      <Head x={266} y={92} />
    </>
  ),
  brightness: (
    <>
      <Display />
      <circle cx="160" cy="88" r="18" />
      {Array.from({ length: 8 }, (_, i) => (
        <path key={i} d="M0 -26V-36" transform={`translate(160 88) rotate(${45 * i})`} />
      ))}
      <g className="act">
        <circle cx="232" cy="166" r="5" />
        <circle cx="252" cy="166" r="5" />
        <path d="M232 190v-12M252 178v12" />
      </g>
      <Head x={232} y={178} turn={-90} />
      <Head x={252} y={192} turn={90} />
    </>
  ),
  power: (
    <>
      <Display />
      <g className="act">
        <path d="M142 74a26 26 0 1 0 36 0" />
        <path d="M160 58v30" />
        <path d="M236 178a14 14 0 1 1 -4 -10" />
      </g>
      <Head x={233} y={169} turn={60} />
    </>
  ),
  place: (
    <>
      <Display />
      <path d="M113 35v108M207 35v108M67 71h186M67 107h186" className="quietline" />
      <Instrument x={90} y={54} />
      <path d="M116 60c40 0 62 8 86 26" className="act" strokeDasharray="6 6" />
      <Head x={206} y={89} turn={42} />
    </>
  ),
  person: (
    <>
      <Display x={40} width={130} height={88} />
      <circle cx="222" cy="74" r="17" />
      <path d="M196 150c0 -60 52 -60 52 0" />
      <path d="M186 150h84M196 150v34M262 150v34" />
      <g className="act">
        <circle cx="270" cy="40" r="20" />
        <path d="M270 28v12l8 6" />
      </g>
    </>
  ),
  light: (
    <>
      {/* A window whose blind is drawn down, and a desk. */}
      <rect x="70" y="34" width="120" height="112" />
      <path d="M130 34v112M70 90h120" className="quietline" />
      <g className="act">
        <path d="M70 34h120v46H70zM70 50h120M70 65h120" />
        <path d="M206 40v44" strokeDasharray="5 5" />
      </g>
      <Head x={206} y={92} turn={90} />
      <path d="M40 190h240M64 190v20M256 190v20" />
      <path d="M240 190v-26M226 164h28" className="quietline" />
    </>
  ),
  device: (
    <>
      <Display />
      <g className="act">
        <path d="M160 58v36" />
        <path d="M160 108v4" />
        <rect x="138" y="46" width="44" height="78" />
      </g>
    </>
  ),
}

/** What hands are to do, as a line drawing of our own: what is acted on in ochre. */
export const HandDrawing = ({ asks }: { asks: Ask }) => (
  <svg viewBox="0 0 320 224" className="handdrawing" aria-hidden data-asks={asks}>
    {drawings[asks]}
  </svg>
)
