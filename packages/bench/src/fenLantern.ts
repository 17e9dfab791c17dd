import scenario from '../scenarios/fen-lantern.json'
import type { Scenario } from './scenario'

/** The demo studio: Fen & Lantern, makers of nature atlases, museum dioramas and planetarium loops. All of it invented. */
export const fenLantern = scenario as unknown as Scenario
