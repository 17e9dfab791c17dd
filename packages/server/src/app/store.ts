import 'reflect-metadata'
import { chmodSync, existsSync, mkdirSync } from 'node:fs'
import { join } from 'node:path'
import Database from 'better-sqlite3'
import { DataSource, type ObjectLiteral } from 'typeorm'
import {
  accountEntity,
  accountTokenEntity,
  apiTokenEntity,
  recoveryCodeEntity,
  sessionEntity,
} from '../access/entities'
import { aimEntity, limitsEntity } from '../aims/entities'
import {
  correctionEntity,
  displayEntity,
  displayEventEntity,
  instrumentEntity,
  roomEntity,
  roomLightEntity,
  slotEntity,
  workstationEntity,
  instrumentOffsetEntity,
} from '../register/entities'
import {
  displayLinkEntity,
  foundEntity,
  placementEntity,
  policyEntity,
  programFoundEntity,
  wantedEntity,
  waveEntity,
  waveItemEntity,
} from '../rollout/entities'
import {
  peerLookEntity,
  peerLookRunEntity,
  peerMemberEntity,
  peerMatchEntity,
  peerSetEntity,
  ringEntity,
  ringStepEntity,
} from '../peers/entities'
import { roundInstrumentEntity, roundPersonEntity, roundPlanEntity, visitEntity } from '../rounds/entities'
import { readingEntity, runAnewEntity, runEntity, runLightEntity, stageEntity, stepEntity } from '../runs/entities'
import { settingEntity } from '../studio/entities'
import { driftDueEntity, slotDriftEntity, validationEntity } from '../drift/entities'
import { courierContentEntity } from '../couriers/entities'
import { contentEntity } from '../data/contentEntity'
import { FourthMigration1764200000000 } from './migrations/fourthMigration'
import { FirstMigration1764000000000 } from './migrations/firstMigration'
import { SecondMigration1764050000000 } from './migrations/secondMigration'
import { ThirdMigration1764140000000 } from './migrations/thirdMigration'
import { FifthMigration1764300000000 } from './migrations/fifthMigration'
import { EighthMigration1764600000000 } from './migrations/eighthMigration'
import { NinthMigration1764700000000 } from './migrations/ninthMigration'
import { TenthMigration1764800000000 } from './migrations/tenthMigration'
import { EleventhMigration1764900000000 } from './migrations/eleventhMigration'
import { TwelfthMigration1765000000000 } from './migrations/twelfthMigration'
import { ThirteenthMigration1765100000000 } from './migrations/thirteenthMigration'
import { FifteenthMigration1765300000000 } from './migrations/fifteenthMigration'
import { SixteenthMigration1765400000000 } from './migrations/sixteenthMigration'
import { SeventeenthMigration1765500000000 } from './migrations/seventeenthMigration'
import { EighteenthMigration1765600000000 } from './migrations/eighteenthMigration'
import { FourteenthMigration1765200000000 } from './migrations/fourteenthMigration'
import { SeventhMigration1764500000000 } from './migrations/seventhMigration'
import { SixthMigration1764400000000 } from './migrations/sixthMigration'
import { inspectStore } from '../data/inspectStore'
import { folded, holdsAll } from '../data/folded'
import { storeFault, StoreRefusal } from '../data/storeFault'

/** In the order in which they are run. */
const migrations = [
  FirstMigration1764000000000,
  SecondMigration1764050000000,
  ThirdMigration1764140000000,
  FourthMigration1764200000000,
  FifthMigration1764300000000,
  SixthMigration1764400000000,
  SeventhMigration1764500000000,
  EighthMigration1764600000000,
  NinthMigration1764700000000,
  TenthMigration1764800000000,
  EleventhMigration1764900000000,
  TwelfthMigration1765000000000,
  ThirteenthMigration1765100000000,
  FourteenthMigration1765200000000,
  FifteenthMigration1765300000000,
  SixteenthMigration1765400000000,
  SeventeenthMigration1765500000000,
  EighteenthMigration1765600000000,
]

/** Names by which a store tells which versions have used it. */
export const migrationNames = migrations.map((m) => m.name)

/**
 * How long a statement may wait for another program that has the store's file, ms: it stands in everybody's way meanwhile,
 * so it is short, and runs try again.
 */
const busyMs = 40

/** Keeps a copy of a store as it was before migrations change it, and says so. Throws StoreRefusal when there is no room for it. */
async function copyBefore(folder: string, database: string, lacking: readonly string[]): Promise<void> {
  const copy = join(folder, 'backups', `before-${lacking[0]}.sqlite`)
  try {
    mkdirSync(join(folder, 'backups'), { recursive: true, mode: 0o700 })
    const store = new Database(database, { readonly: true })
    await store.backup(copy).finally(() => store.close())
  } catch (error) {
    throw new StoreRefusal(
      `The store has to be brought up to date, and no copy of it could be kept in ${copy}: ${storeFault(error)?.sentence ?? (error as Error).message} Nothing was changed.`,
    )
  }
  console.error(`The store is brought up to date in ${lacking.length} steps. As it was it is kept in ${copy}.`)
}

/** What of better-sqlite3 the store is prepared with. */
interface StoreConnection {
  pragma(text: string): unknown
  function(name: string, options: object, work: (...texts: unknown[]) => unknown): unknown
}

/** What the store is opened with. */
export interface StoreOptions {
  /** In place of better-sqlite3, for tests of disks that fail. */
  readonly driver?: unknown
  /** False leaves it to the system when commits reach the disk: for studios that are made in one go, and made again if not. */
  readonly durable?: boolean
  /** The last migration that is run, by its name: for a store as an earlier version had it. */
  readonly upTo?: string
}

/** A number on its way through TypeORM. */
class Bound {
  constructor(readonly value: number) {}
}

/**
 * Numbers are bound and not written into the text, as TypeORM's driver for SQLite would: a query about another display is
 * the same text then, prepared once.
 */
function bindNumbers({ driver }: DataSource): void {
  const escape = driver.escapeQueryWithParameters.bind(driver)
  driver.escapeQueryWithParameters = (sql, parameters) => {
    const held = Object.entries(parameters).map(([name, v]) => [name, typeof v === 'number' ? new Bound(v) : v])
    const [text, values] = escape(sql, Object.fromEntries(held) as ObjectLiteral)
    return [text, values.map((v: unknown) => (v instanceof Bound ? v.value : v))]
  }
}

/**
 * Opens the store in a folder (made when absent), in WAL mode with every commit on the disk before it is told of, and
 * brings it up to date by migrations. Throws StoreRefusal for a store that cannot be used.
 */
export async function openStore(
  folder: string,
  { driver, durable = true, upTo }: StoreOptions = {},
): Promise<DataSource> {
  mkdirSync(folder, { recursive: true, mode: 0o700 })
  const database = join(folder, 'bichroma.sqlite')
  const lacking = inspectStore(database, migrationNames)
  if (lacking.length && driver === undefined) await copyBefore(folder, database, lacking)
  const data = new DataSource({
    type: 'better-sqlite3',
    database,
    ...(driver !== undefined && { driver }),
    enableWAL: true,
    timeout: busyMs,
    // More than the server has: a query that is prepared anew takes longer than most take to run.
    statementCacheSize: 1000,
    prepareDatabase: (connection: StoreConnection) => {
      // A reading that was acknowledged outlives a power cut: WAL alone promises that only with FULL.
      connection.pragma(`synchronous = ${durable ? 'FULL' : 'OFF'}`)
      connection.function('folded', { deterministic: true }, (text) => folded(String(text)))
      connection.function('holds_all', { deterministic: true }, (text, words) =>
        Number(holdsAll(String(text), String(words))),
      )
    },
    entities: [
      accountEntity,
      sessionEntity,
      accountTokenEntity,
      apiTokenEntity,
      recoveryCodeEntity,
      contentEntity,
      aimEntity,
      limitsEntity,
      roomEntity,
      roomLightEntity,
      workstationEntity,
      displayEntity,
      slotEntity,
      instrumentEntity,
      correctionEntity,
      runEntity,
      runLightEntity,
      stepEntity,
      stageEntity,
      readingEntity,
      placementEntity,
      foundEntity,
      policyEntity,
      wantedEntity,
      waveEntity,
      waveItemEntity,
      displayLinkEntity,
      programFoundEntity,
      roundPersonEntity,
      roundInstrumentEntity,
      roundPlanEntity,
      visitEntity,
      peerSetEntity,
      peerMemberEntity,
      peerLookEntity,
      peerLookRunEntity,
      ringEntity,
      peerMatchEntity,
      instrumentOffsetEntity,
      runAnewEntity,
      ringStepEntity,
      settingEntity,
      validationEntity,
      slotDriftEntity,
      displayEventEntity,
      driftDueEntity,
      courierContentEntity,
    ],
    migrations: upTo === undefined ? migrations : migrations.slice(0, migrationNames.indexOf(upTo) + 1),
    migrationsRun: true,
    synchronize: false,
  })
  bindNumbers(data)
  try {
    await data.initialize()
    // Hashes of passwords lie in it: nobody else of this machine reads along.
    for (const ending of ['', '-wal', '-shm'])
      if (existsSync(`${database}${ending}`)) chmodSync(`${database}${ending}`, 0o600)
    return data
  } catch (error) {
    const fault = storeFault(error)
    if (!fault) throw error
    throw new StoreRefusal(`The store ${database} cannot be used: ${fault.sentence}`)
  }
}
