import 'reflect-metadata'
import { mkdirSync } from 'node:fs'
import { join } from 'node:path'
import { DataSource } from 'typeorm'
import { accountEntity, accountTokenEntity, sessionEntity } from '../access/entities'
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
} from '../register/entities'
import { placementEntity } from '../rollout/entities'
import { readingEntity, runEntity, stageEntity, stepEntity } from '../runs/entities'
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
]

/** Names by which a store tells which versions have used it. */
export const migrationNames = migrations.map((m) => m.name)

/**
 * How long a statement may wait for another program that has the store's file, ms: it stands in everybody's way meanwhile,
 * so it is short, and runs try again.
 */
const busyMs = 40

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
}

/**
 * Opens the store in a folder (made when absent), in WAL mode with every commit on the disk before it is told of, and
 * brings it up to date by migrations. Throws StoreRefusal for a store that cannot be used.
 */
export async function openStore(folder: string, { driver, durable = true }: StoreOptions = {}): Promise<DataSource> {
  mkdirSync(folder, { recursive: true })
  const database = join(folder, 'bichroma.sqlite')
  inspectStore(database, migrationNames)
  const data = new DataSource({
    type: 'better-sqlite3',
    database,
    ...(driver !== undefined && { driver }),
    enableWAL: true,
    timeout: busyMs,
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
      stepEntity,
      stageEntity,
      readingEntity,
      placementEntity,
      settingEntity,
      validationEntity,
      slotDriftEntity,
      displayEventEntity,
      driftDueEntity,
      courierContentEntity,
    ],
    migrations,
    migrationsRun: true,
    synchronize: false,
  })
  try {
    return await data.initialize()
  } catch (error) {
    const fault = storeFault(error)
    if (!fault) throw error
    throw new StoreRefusal(`The store ${database} cannot be used: ${fault.sentence}`)
  }
}
