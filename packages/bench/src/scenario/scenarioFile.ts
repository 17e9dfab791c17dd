import { readFileSync } from 'node:fs'
import { dirname, resolve } from 'node:path'
import { readScenario, type Scenario } from './scenario'

/** The JSON of a file. Throws Error with a sentence when it is not there or not JSON. */
export function readJson(path: string): unknown {
  let text: string
  try {
    text = readFileSync(path, 'utf8')
  } catch {
    throw new Error(`The file ${path} cannot be read. See that it is there.`)
  }
  try {
    return JSON.parse(text)
  } catch (error) {
    throw new Error(`The file ${path} is not JSON: ${(error as Error).message}.`)
  }
}

/** A scenario from its file; models that do not ship are files, their paths relative to it. */
export const readScenarioFile = (path: string): Scenario =>
  readScenario(readJson(path), (model) => readJson(resolve(dirname(path), model)))
