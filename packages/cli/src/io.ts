import { accessSync, constants, readFileSync, statSync, writeFileSync } from 'node:fs'
import { basename } from 'node:path'
import { InvalidInput } from '@bichroma/contract'
import { complaintOf, FormatError } from '@bichroma/core/formats'
import { ProfileError } from '@bichroma/core/profiles'
import { PlanError } from '@bichroma/core/runs'

/** What the command line touches of the world; tests hand in their own. */
export interface CliIo {
  readonly print: (text: string) => void
  readonly complain: (text: string) => void
  /** ms since 1970, UTC. */
  readonly now: () => number
}

export const nodeIo: CliIo = {
  print: (text) => process.stdout.write(`${text}\n`),
  complain: (text) => process.stderr.write(`${text}\n`),
  now: Date.now,
}

/** What a person gave cannot be used: one line that names file, line and field. */
export class BadInput extends Error {}

/** Larger files are refused before they are read. */
const mostBytes = 512 * 2 ** 20

const reasons: Readonly<Record<string, string>> = {
  ENOENT: 'there is no such file',
  EISDIR: 'it is a folder, not a file',
  EACCES: 'it may not be read or written by you',
  ENOSPC: 'there is no room left on the disk',
  ENOTDIR: 'a part of its path is no folder',
  EROFS: 'the disk may not be written to',
}

const reasonOf = (error: unknown) => {
  const { code, message } = error as NodeJS.ErrnoException
  return reasons[code ?? ''] ?? message
}

/** Throws BadInput for a file that is not there, or that one may not read. */
export function mustExist(path: string): void {
  try {
    accessSync(path, constants.R_OK)
  } catch (error) {
    throw new BadInput(`${path}: ${reasonOf(error)}.`)
  }
}

export function readBytes(path: string): Uint8Array {
  try {
    if (statSync(path).size > mostBytes) throw new BadInput(`${path}: the file is larger than 512 MB.`)
    return new Uint8Array(readFileSync(path))
  } catch (error) {
    if (error instanceof BadInput) throw error
    throw new BadInput(`${path}: ${reasonOf(error)}.`)
  }
}

export function readText(path: string): string {
  try {
    return new TextDecoder('utf-8', { fatal: true }).decode(readBytes(path))
  } catch (error) {
    if (error instanceof BadInput) throw error
    throw new BadInput(`${path}: the file is no text in UTF-8.`)
  }
}

export function write(path: string, contents: string | Uint8Array): void {
  try {
    writeFileSync(path, contents)
  } catch (error) {
    throw new BadInput(`${path}: ${reasonOf(error)}.`)
  }
}

/** Runs what reads a file; its complaint then names the file, and the line where there is one. */
export function fromFile<T>(path: string, read: () => T): T {
  try {
    return read()
  } catch (error) {
    if (error instanceof FormatError) throw new BadInput(complaintOf(path, error))
    if (error instanceof ProfileError || error instanceof InvalidInput || error instanceof PlanError)
      throw new BadInput(`${path}: ${error.message}`)
    // The core says with a plain Error what a set of readings lacks.
    if (error instanceof Error && (error.constructor === Error || error instanceof RangeError))
      throw new BadInput(`${path}: ${error.message}`)
    throw error
  }
}

/** JSON from a file; a complaint names the line. */
export function readJson(path: string): unknown {
  const text = readText(path)
  try {
    return JSON.parse(text)
  } catch (error) {
    const at = /position (\d+)/.exec((error as Error).message)?.[1]
    const line = at === undefined ? text.split('\n').length : text.slice(0, Number(at)).split('\n').length
    throw new BadInput(`${path}, line ${line}: this is no JSON.`)
  }
}

export const nameOf = (path: string): string => basename(path).replace(/\.[^.]+$/, '')
