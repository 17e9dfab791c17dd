import { Button, Input } from 'antd'
import { useState } from 'react'
import { useParams } from 'react-router'
import { useQuery, useQueryClient } from '@tanstack/react-query'
import { clockIn, dayWords, localDate } from '@bichroma/core/rounds'
import type { Desk, DeskDisplay } from '@bichroma/contract'
import { ask } from '../api/client'
import { ChooseFile } from '../parts/ChooseFile'
import { Loaded } from '../parts/Loaded'
import { Mark } from '../parts/mark'
import { VerdictSign } from '../parts/VerdictSign'
import { smallPicture } from './smallPicture'
import './desk.css'

/** The page of a desk, opened by its link alone: whether its displays can be trusted, for what, until when, what is planned. */
export function DeskPage() {
  const { token } = useParams()
  const path = `/desk/${token}`
  const query = useQuery({ queryKey: ['desk', token], queryFn: () => ask<Desk>('GET', path), refetchInterval: 60_000 })
  return (
    <div className="deskpage">
      <Loaded query={query}>
        {(desk) => (
          <>
            <header>
              <Mark />
              <span>
                {desk.studio && `${desk.studio}, `}
                {desk.room}, {desk.workstation}
              </span>
            </header>
            {desk.light && (
              <p className="asks large" role="status">
                {desk.light}
              </p>
            )}
            {desk.displays.map((d) => (
              <OneDisplay key={d.id} display={d} desk={desk} path={path} />
            ))}
            {!desk.displays.length && <p className="none">No display stands at this desk.</p>}
          </>
        )}
      </Loaded>
    </div>
  )
}

const when = (at: number, zone: string) => `${dayWords(localDate(at, zone))}, ${clockIn(at, zone)}`

/** Whether it can be trusted, in one sentence. */
function trustSentence({ verdict, shows, until }: DeskDisplay, zone: string): string {
  const what = shows ? ` for ${shows}` : ''
  switch (verdict) {
    case 'within':
    case 'near':
      return `You can trust it${what}${until === null ? '' : ` until ${dayWords(localDate(until, zone))}`}.`
    case 'untold':
      return `It cannot be told whether it can be trusted${what}: the instrument that read it is not sure enough.`
    case 'outside':
      return `Do not judge colour on it${what ? `, not even${what}` : ''}: it was outside its limits when it was last read.`
    case 'lapsed':
      return `Nobody knows whether it can be trusted${what}: it was read too long ago.`
    case 'unproven':
      return 'Nobody knows whether it can be trusted: it was never read.'
  }
}

function OneDisplay({ display, desk, path }: { display: DeskDisplay; desk: Desk; path: string }) {
  const { visit, reports } = display
  const { zone } = desk
  const trusted = display.others.filter((o) => o.verdict === 'within' || o.verdict === 'near')
  return (
    <section className="plane onedisplay">
      <VerdictSign verdict={display.verdict} size={34} />
      <div>
        <h1>{display.name}</h1>
        <p className="large">{trustSentence(display, zone)}</p>
        {trusted.length > 0 && (
          <p className="second">It was also proven for {trusted.map((o) => o.label).join(', ')}.</p>
        )}
        {visit && <Planned visit={visit} zone={zone} path={path} />}
        <LooksWrong display={display} path={path} />
        {reports.map((r) => (
          <p key={`${r.at} ${r.text}`} className="said">
            <span className="quiet">{when(r.at, zone)}, you said:</span> {r.text}
            <br />
            {r.answer ? (
              <>
                <span className="quiet">{r.answeredAt !== null && `${when(r.answeredAt, zone)}: `}</span>
                {r.answer}
              </>
            ) : (
              <span className="asks">Somebody will look at it.</span>
            )}
          </p>
        ))}
      </div>
    </section>
  )
}

/** Sends what was said, and shows the page as it is then. */
function useSay(path: string) {
  const client = useQueryClient()
  const [said, setSaid] = useState<string | null>(null)
  const [busy, setBusy] = useState(false)
  return {
    said,
    busy,
    say: async (to: 'answer' | 'wrong', body: object): Promise<boolean> => {
      setBusy(true)
      setSaid(null)
      try {
        await ask('POST', `${path}/${to}`, body)
        return true
      } catch (error) {
        setSaid((error as Error).message)
        return false
      } finally {
        setBusy(false)
        await client.invalidateQueries({ queryKey: ['desk'] })
      }
    },
  }
}

function Planned({ visit, zone, path }: { visit: NonNullable<DeskDisplay['visit']>; zone: string; path: string }) {
  const { say, said, busy } = useSay(path)
  const [choosing, choose] = useState(false)
  if (visit.state === 'begun') return <p className="runs">It is being read at this moment. Please leave it alone.</p>
  const answer = (body: object) => {
    choose(false)
    void say('answer', { visitId: visit.id, ...body })
  }
  return (
    <div className="planned">
      <p>
        Somebody comes on <b>{when(visit.at, zone)}</b> and needs it for {visit.minutes} minutes.
        {visit.answer === 'suits' && ' You said that this suits.'}
        {visit.answer === 'another time' && ' You chose this time.'}
        {visit.answer === 'later' && ' You put it off to then.'}
      </p>
      <div className="tap">
        {visit.answer === null && (
          <Button size="large" type="primary" loading={busy} onClick={() => answer({ answer: 'suits' })}>
            That suits
          </Button>
        )}
        {visit.times.length > 0 && (
          <Button size="large" aria-expanded={choosing} onClick={() => choose(!choosing)}>
            Another time…
          </Button>
        )}
        {visit.later !== null && (
          <Button size="large" loading={busy} onClick={() => answer({ answer: 'later' })}>
            Put it off to {when(visit.later, zone)}
          </Button>
        )}
      </div>
      {choosing && (
        <div className="tap" role="group" aria-label="Other times">
          {visit.times.map((at) => (
            <Button key={at} size="large" onClick={() => answer({ answer: 'another time', at })}>
              {when(at, zone)}
            </Button>
          ))}
        </div>
      )}
      {said && (
        <p className="asks" role="alert">
          {said}
        </p>
      )}
    </div>
  )
}

function LooksWrong({ display, path }: { display: DeskDisplay; path: string }) {
  const { say, said, busy } = useSay(path)
  const [open, setOpen] = useState(false)
  const [text, setText] = useState('')
  const [picture, setPicture] = useState<{ name: string; base64: string } | null>(null)
  const [fault, setFault] = useState<string | null>(null)
  if (!open)
    return (
      <Button size="large" onClick={() => setOpen(true)}>
        This looks wrong…
      </Button>
    )
  const send = async () => {
    if (await say('wrong', { displayId: display.id, text, ...(picture && { picture: picture.base64 }) })) {
      setOpen(false)
      setText('')
      setPicture(null)
    }
  }
  return (
    <div className="wrongform">
      <label>
        What looks wrong?
        <Input
          size="large"
          value={text}
          maxLength={300}
          onChange={(e) => setText(e.target.value)}
          placeholder="The greys look green since this morning"
        />
      </label>
      <span>
        <ChooseFile
          label="A picture"
          accept="image/*"
          onChoose={(file) => {
            setFault(null)
            smallPicture(file).then(
              (base64) => setPicture({ name: file.name, base64 }),
              () => setFault('This file is no picture that can be read here.'),
            )
          }}
        >
          Add a picture…
        </ChooseFile>{' '}
        <span className="quiet">{picture?.name ?? 'if you like'}</span>
      </span>
      <div className="tap">
        <Button
          size="large"
          type="primary"
          loading={busy}
          disabled={text.trim().length < 3}
          onClick={() => void send()}
        >
          Say so
        </Button>
        <Button size="large" onClick={() => setOpen(false)}>
          Back
        </Button>
      </div>
      {(fault ?? said) && (
        <p className="asks" role="alert">
          {fault ?? said}
        </p>
      )}
    </div>
  )
}
