import file from '../../scenarios/fen-lantern.json'
import { readScenario, type Scenario } from './scenario'

/** The demo studio: Fen & Lantern, makers of nature atlases, museum dioramas and planetarium loops. All of it invented. */
export const fenLantern: Scenario = readScenario(file, (model) => {
  throw new Error(`The bench ships no model of the name ${model}.`)
})
