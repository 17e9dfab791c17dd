import { keepPreviousData, QueryClient, useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { App } from 'antd'
import type {
  Backups,
  Capacity,
  DisplayDetail,
  DisplayRollout,
  DueRules,
  PolicyListing,
  RolloutSummary,
  Selection,
  WaveDetail,
  WavePreview,
  FleetDrift,
  FloorSummary,
  FoundDisplay,
  Instrument,
  LightDay,
  LightWeeks,
  KeptWell,
  LinkListing,
  ModelFacts,
  PutAwayDisplay,
  ApiToken,
  OwnSession,
  SecondFactorState,
  InstrumentOffsetTold,
  InstrumentsDue,
  PeerSetDetail,
  Person,
  Pulse,
  Room,
  RoundsHouse,
  RunDetail,
  RunOutlook,
  RunReview,
  Session,
  SlotHistory,
  StoredAim,
  StoredLimits,
  StudioSettings,
  Tour,
  Week,
} from '@bichroma/contract'
import { ApiProblem, ask } from './client'
import { addressOf, type Asked } from './lists'

export const queryClient = new QueryClient({
  defaultOptions: {
    queries: {
      staleTime: 15_000,
      // What the server refused stays refused; only silence is worth a second try.
      retry: (count, error) => count < 2 && error instanceof ApiProblem && error.problem.status === 0,
    },
  },
})

const useGet = <T>(path: string) => useQuery({ queryKey: path.slice(1).split('/'), queryFn: () => ask<T>('GET', path) })

export const useSession = () => useGet<Session>('/session')
export const useOwnSessions = () => useGet<OwnSession[]>('/session/all')
export const usePolicies = () => useGet<PolicyListing[]>('/policies')
export const useRolloutSummary = () => useGet<RolloutSummary>('/rollout/summary')
export const useDisplayRollout = (id: number) => useGet<DisplayRollout>(`/displays/${id}/rollout`)
/** What a wave would do; asked anew whenever something of rollout changed. */
export const useWavePreview = (selection: Selection) =>
  useQuery({
    queryKey: ['rollout', 'preview', JSON.stringify(selection)],
    queryFn: () => ask<WavePreview>('POST', '/waves/preview', { selection }),
    placeholderData: keepPreviousData,
  })
/** A wave with the first of its displays that are asked for. */
export const useWave = (id: number, asked: Asked) =>
  useQuery({
    queryKey: ['waves', String(id), addressOf('', asked)],
    queryFn: () => ask<WaveDetail>('GET', addressOf(`/waves/${id}`, { ...asked, limit: 200 })),
    placeholderData: keepPreviousData,
  })
export const useFound = () => useGet<FoundDisplay[]>('/found')
export const useBackups = () => useGet<Backups>('/backups')
export const useSecondFactor = () => useGet<SecondFactorState>('/session/second-factor')
/** A JSON Schema, as far as it is shown. */
export interface ApiSchema {
  readonly $ref?: string
  readonly type?: string | readonly string[]
  readonly description?: string
  readonly properties?: Readonly<Record<string, ApiSchema>>
  readonly required?: readonly string[]
  readonly items?: ApiSchema
  readonly prefixItems?: readonly ApiSchema[]
  readonly enum?: readonly unknown[]
  readonly const?: unknown
  readonly anyOf?: readonly ApiSchema[]
  readonly oneOf?: readonly ApiSchema[]
  readonly minimum?: number
  readonly exclusiveMinimum?: number
  readonly maximum?: number
  readonly maxLength?: number
}
/** What the API's description says of one route. */
export interface ApiOperation {
  readonly tags: readonly [string]
  readonly summary: string
  readonly description: string
  readonly parameters?: readonly { readonly name: string; readonly required: boolean; readonly schema: ApiSchema }[]
  readonly requestBody?: {
    readonly content: Readonly<Record<string, { readonly schema?: ApiSchema; readonly example?: unknown }>>
  }
  readonly responses: Readonly<
    Record<string, { readonly content: Readonly<Record<string, { readonly schema?: ApiSchema }>> }>
  >
}
export const useApiDescription = () =>
  useGet<{
    readonly paths: Readonly<Record<string, Readonly<Record<string, ApiOperation>>>>
    readonly components: { readonly schemas: Readonly<Record<string, ApiSchema>> }
  }>('/openapi.json')
export const useTokens = () => useGet<ApiToken[]>('/tokens')
export const usePeople = () => useGet<Person[]>('/people')
export const useRooms = () => useGet<Room[]>('/rooms')
/** A room's light on one day, today unless another is named; and over some weeks. */
export const useLightDay = (roomId: number, date: string) =>
  useQuery({
    queryKey: ['rooms', String(roomId), 'light', 'day', date],
    queryFn: () => ask<LightDay>('GET', addressOf(`/rooms/${roomId}/light/day`, { date })),
    placeholderData: keepPreviousData,
  })
export const useLightWeeks = (roomId: number, weeks: string) =>
  useQuery({
    queryKey: ['rooms', String(roomId), 'light', 'weeks', weeks],
    queryFn: () => ask<LightWeeks>('GET', addressOf(`/rooms/${roomId}/light/weeks`, { weeks })),
    placeholderData: keepPreviousData,
  })
export const useFloor = () => useGet<FloorSummary>('/floor')
/** One display; nothing while none is chosen. */
export const useDisplay = (id: number | null) =>
  useQuery({
    queryKey: ['displays', String(id)],
    queryFn: () => ask<DisplayDetail>('GET', `/displays/${id}`),
    enabled: id !== null,
  })
/** Instruments that are in use. */
export const useInstruments = () =>
  useQuery({
    queryKey: ['instruments'],
    queryFn: () => ask<Instrument[]>('GET', '/instruments'),
    select: inUseOnly,
  })
/** Instruments, those that were put away included. */
export const useAllInstruments = () => useGet<Instrument[]>('/instruments')
const inUseOnly = (all: Instrument[]) => all.filter((i) => i.kept === 'in use')
export const useModels = () => useGet<ModelFacts[]>('/models')
export const usePutAway = () => useGet<PutAwayDisplay[]>('/put-away')
export const useAims = () => useGet<StoredAim[]>('/aims')
export const useLimits = () => useGet<StoredLimits[]>('/limits')
export const useRun = (id: number) => useGet<RunDetail>(`/runs/${id}`)
export const useSettings = () => useGet<StudioSettings>('/settings')
export const useOutlook = (displayId: number) => useGet<RunOutlook[]>(`/displays/${displayId}/outlook`)
/** The review of one run; nothing while none is chosen (0). */
export const useReview = (id: number) =>
  useQuery({
    queryKey: ['runs', String(id), 'review'],
    queryFn: () => ask<RunReview>('GET', `/runs/${id}/review`),
    enabled: id !== 0,
  })
export const useInstrumentOffsets = () => useGet<InstrumentOffsetTold[]>('/instrument-offsets')
export const usePeerSet = (id: number) => useGet<PeerSetDetail>(`/peer-sets/${id}`)
export const useFleetDrift = () => useGet<FleetDrift>('/drift')
export const useSlotHistory = (displayId: number, slot: number | null) =>
  useGet<SlotHistory>(`/drift/${displayId}${slot === null ? '' : `?slot=${slot}`}`)
/** Seven days of rounds from a day on; from today unless given. */
export const useWeek = (from: string) =>
  useQuery({
    queryKey: ['rounds', 'week', from],
    queryFn: () => ask<Week>('GET', addressOf('/rounds/week', { from })),
    placeholderData: keepPreviousData,
  })
/** Somebody's tour of a day; one's own of today unless given. */
export const useTour = (person: string, date: string) =>
  useQuery({
    queryKey: ['rounds', 'tour', person, date],
    queryFn: () => ask<Tour>('GET', addressOf('/rounds/tour', { person, date })),
    placeholderData: keepPreviousData,
    refetchInterval: 60_000,
  })
export const useDueRules = () =>
  useQuery({ queryKey: ['rounds', 'rules'], queryFn: () => ask<DueRules>('GET', '/due-rules') })
/** How well displays were kept in so many months. */
export const useKept = (months: string) =>
  useQuery({
    queryKey: ['rounds', 'kept', months],
    queryFn: () => ask<KeptWell>('GET', `/kept?months=${months}`),
    placeholderData: keepPreviousData,
    staleTime: 60_000,
  })
export const useLinks = () =>
  useQuery({ queryKey: ['rounds', 'links'], queryFn: () => ask<LinkListing[]>('GET', '/links') })
export const useInstrumentsDue = () => useGet<InstrumentsDue>('/rounds/instruments-due')
export const useHouse = () => useGet<RoundsHouse>('/rounds/house')
/** What one thing more would come to; worked out when it is asked for. */
export const useCapacity = (enabled: boolean) =>
  useQuery({
    queryKey: ['rounds', 'capacity'],
    queryFn: () => ask<Capacity>('GET', '/rounds/capacity'),
    enabled,
    staleTime: 60_000,
  })
export const usePulse = () => useGet<Pulse>('/pulse')

/** Sends something; a refusal is shown as its sentence unless the caller takes it itself. */
export function useSend<T, R = unknown>(send: (input: T) => Promise<R>, onError?: (problem: ApiProblem) => void) {
  const { message } = App.useApp()
  const client = useQueryClient()
  return useMutation({
    mutationFn: send,
    onSuccess: () => client.invalidateQueries(),
    onError: (error) => {
      if (error instanceof ApiProblem && onError) onError(error)
      else void message.error(error.message)
    },
  })
}
