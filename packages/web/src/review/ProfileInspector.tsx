import { Button } from 'antd'
import { useEffect, useRef, useState } from 'react'
import { useSearchParams } from 'react-router'
import { solidOfSurface, tessellate, volumeOf } from '@bichroma/core/gamut'
import {
  describeTag,
  profileTransforms,
  readIccProfile,
  textOf,
  whiteOfProfile,
  type IccProfile,
} from '@bichroma/core/profiles'
import { request } from '../api/client'
import { Plane } from '../parts/Plane'
import { formatDay } from '../parts/times'
import { ProfileFigures } from './ProfileFigures'
import './review.css'

/** One profile that was opened. */
interface Opened {
  readonly name: string
  readonly bytes: Uint8Array
  readonly profile: IccProfile
}

const sides = ['First', 'Second'] as const
type Side = 0 | 1

/** Reads a profile to its end, so that a broken one is told here and not halfway through the page. */
function openProfile(name: string, bytes: Uint8Array): Opened {
  const profile = readIccProfile(bytes)
  profileTransforms(profile)
  return { name, bytes, profile }
}

/** Looks into profiles: any that is dropped here, with its header, tags and curves, and beside another one. */
export function ProfileInspector() {
  const [params] = useSearchParams()
  const [opened, setOpened] = useState<readonly [Opened | null, Opened | null]>([null, null])
  const [problem, setProblem] = useState('')
  const [over, setOver] = useState(false)
  const chooser = useRef<HTMLInputElement>(null)
  const side = useRef<Side>(0)
  const put = (which: Side, name: string, bytes: Uint8Array) => {
    try {
      const next = openProfile(name, bytes)
      setOpened((now) => (which === 0 ? [next, now[1]] : [now[0], next]))
      setProblem('')
    } catch (error) {
      setProblem(`${name}: ${(error as Error).message}`)
    }
  }
  const run = params.get('run')
  useEffect(() => {
    if (!run) return
    let gone = false
    const name = `Profile of run ${run}`
    void (async () => {
      const response = await request('GET', `/runs/${run}/profile`)
      const next = openProfile(name, new Uint8Array(await response.arrayBuffer()))
      if (!gone) setOpened((now) => [{ ...next, name: textOf(next.profile, 'desc') || name }, now[1]])
    })().catch((error: Error) => {
      if (!gone) setProblem(`${name}: ${error.message}`)
    })
    return () => {
      gone = true
    }
  }, [run])
  const take = async (files: Iterable<File>) => {
    let which: Side = side.current
    for (const file of [...files].slice(0, 2)) {
      const bytes = await file.arrayBuffer().catch(() => null)
      if (bytes) put(which, file.name, new Uint8Array(bytes))
      else setProblem(`${file.name}: This browser cannot read it.`)
      which = 1
    }
  }
  const choose = (which: Side) => {
    side.current = which
    chooser.current?.click()
  }
  const [first, second] = opened
  return (
    <div
      className={over ? 'dropping' : undefined}
      onDragOver={(e) => {
        e.preventDefault()
        setOver(true)
      }}
      onDragLeave={() => setOver(false)}
      onDrop={(e) => {
        e.preventDefault()
        setOver(false)
        side.current = first && !second ? 1 : 0
        void take(e.dataTransfer.files)
      }}
    >
      <div className="top">
        <div>
          <h1>Look into a profile</h1>
          <p>Drop an .icc file here, or two to see where they differ. Nothing of them leaves this browser.</p>
        </div>
        <div className="acts">
          {sides.map((name, which) => (
            <Button key={name} onClick={() => choose(which as Side)}>
              {which === 0 ? 'Open a profile' : 'Open another beside it'}
            </Button>
          ))}
          <input
            ref={chooser}
            type="file"
            hidden
            multiple
            accept=".icc,.icm"
            aria-label="Profile to look into"
            onChange={(e) => {
              void take(e.target.files ?? [])
              e.target.value = ''
            }}
          />
        </div>
      </div>
      {problem && (
        <p role="alert" className="asks" style={{ marginBottom: 12 }}>
          {problem}
        </p>
      )}
      {!first && !second ? (
        <Plane>
          <p className="none" style={{ padding: 60 }}>
            No profile is open yet.
          </p>
        </Plane>
      ) : (
        <div className="inspector">
          <Plane title="What it says" aside={first && second ? 'where the two differ, the row is marked' : undefined}>
            <TagTable opened={opened} />
          </Plane>
          <div style={{ display: 'grid', gap: 14 }}>
            {opened.map(
              (o, i) =>
                o && (
                  <Plane key={sides[i]} title={o.name} aside="curves">
                    <div style={{ height: second && first ? 250 : 420 }}>
                      <ProfileFigures bytes={o.bytes} />
                    </div>
                  </Plane>
                ),
            )}
          </div>
        </div>
      )}
    </div>
  )
}

/** A tag's contents, or what is wrong with it. */
function told(profile: IccProfile, signature: string): string {
  try {
    return describeTag(profile.read(signature))
  } catch (error) {
    return `broken: ${(error as Error).message}`
  }
}

/** Volume of what a profile reaches, cubic CIELAB units. */
function volume(profile: IccProfile): string {
  const { toLab } = profileTransforms(profile)
  return Math.round(volumeOf(solidOfSurface(tessellate(toLab)))).toLocaleString('en')
}

const head: readonly [string, (o: Opened) => string][] = [
  ['Name inside', ({ profile }) => textOf(profile, 'desc') || '–'],
  ['Size', ({ bytes }) => `${bytes.length.toLocaleString('en')} bytes`],
  ['ICC version', ({ profile }) => profile.version],
  ['Made', ({ profile }) => (Number.isNaN(profile.createdAt) ? '–' : formatDay(profile.createdAt))],
  ['Connects through', ({ profile }) => profile.connectionSpace],
  ['Kind', ({ profile }) => (profileTransforms(profile).kind === 'matrix' ? 'matrix and curves' : 'tables')],
  ['ID', ({ profile }) => profile.id || 'none'],
  [
    'Its white, xy',
    ({ profile }) => {
      const white = whiteOfProfile(profile)
      return white ? `${white.x.toFixed(4)} ${white.y.toFixed(4)}` : 'not told'
    },
  ],
  ['Gamut volume', ({ profile }) => volume(profile)],
]

function TagTable({ opened }: { opened: readonly [Opened | null, Opened | null] }) {
  const present = opened.filter((o): o is Opened => o !== null)
  const signatures = [...new Set(present.flatMap((o) => o.profile.tags.map((t) => t.signature)))]
  const rows: [string, string[]][] = [
    ...head.map(([name, of]): [string, string[]] => [name, present.map(of)]),
    ...signatures.map((s): [string, string[]] => [
      s,
      present.map((o) => (o.profile.tags.some((t) => t.signature === s) ? told(o.profile, s) : 'not there')),
    ]),
  ]
  return (
    <table className="figures tags">
      <thead>
        <tr>
          <th>Tag</th>
          {present.map((o, i) => (
            <th key={i}>{o.name}</th>
          ))}
        </tr>
      </thead>
      <tbody>
        {rows.map(([name, values]) => (
          <tr key={name} className={values.length === 2 && values[0] !== values[1] ? 'differs' : undefined}>
            <td>{name}</td>
            {values.map((v, i) => (
              <td key={i} className="fig">
                {v}
              </td>
            ))}
          </tr>
        ))}
      </tbody>
    </table>
  )
}
