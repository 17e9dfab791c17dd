import 'reflect-metadata'
import { mkdirSync } from 'node:fs'
import { join } from 'node:path'
import { DataSource } from 'typeorm'
import { accountEntity, sessionEntity } from '../access/entities'
import { aimEntity, limitsEntity } from '../aims/entities'
import {
  correctionEntity,
  displayEntity,
  instrumentEntity,
  roomEntity,
  roomLightEntity,
  slotEntity,
  workstationEntity,
} from '../register/entities'
import { placementEntity } from '../rollout/entities'
import { readingEntity, runEntity, stageEntity, stepEntity } from '../runs/entities'
import { settingEntity } from '../studio/entities'
import { displayEventEntity, slotDriftEntity, validationEntity } from '../drift/entities'
import { contentEntity } from './contentEntity'
import { FourthMigration1764200000000 } from './fourthMigration'
import { FirstMigration1764000000000 } from './firstMigration'
import { SecondMigration1764050000000 } from './secondMigration'
import { ThirdMigration1764140000000 } from './thirdMigration'

/** Opens the store in a folder (made when absent), in WAL mode, and brings it up to date by migrations. */
export async function openStore(folder: string): Promise<DataSource> {
  mkdirSync(folder, { recursive: true })
  const data = new DataSource({
    type: 'better-sqlite3',
    database: join(folder, 'bichroma.sqlite'),
    enableWAL: true,
    entities: [
      accountEntity,
      sessionEntity,
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
    ],
    migrations: [
      FirstMigration1764000000000,
      SecondMigration1764050000000,
      ThirdMigration1764140000000,
      FourthMigration1764200000000,
    ],
    migrationsRun: true,
    synchronize: false,
  })
  await data.initialize()
  return data
}
