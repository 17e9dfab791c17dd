import { QueryClient, useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { App } from 'antd'
import type {
  Backups,
  DisplayDetail,
  FleetDrift,
  FloorSummary,
  FoundDisplay,
  Instrument,
  ApiToken,
  OwnSession,
  SecondFactorState,
  Person,
  Pulse,
  Room,
  RunDetail,
  RunOutlook,
  RunReview,
  Session,
  SlotHistory,
  StoredAim,
  StoredLimits,
  StudioSettings,
} from '@bichroma/contract'
import { ApiProblem, ask } from './client'

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
export const useFound = () => useGet<FoundDisplay[]>('/found')
export const useBackups = () => useGet<Backups>('/backups')
export const useSecondFactor = () => useGet<SecondFactorState>('/session/second-factor')
export const useTokens = () => useGet<ApiToken[]>('/tokens')
export const usePeople = () => useGet<Person[]>('/people')
export const useRooms = () => useGet<Room[]>('/rooms')
export const useFloor = () => useGet<FloorSummary>('/floor')
/** One display; nothing while none is chosen. */
export const useDisplay = (id: number | null) =>
  useQuery({
    queryKey: ['displays', String(id)],
    queryFn: () => ask<DisplayDetail>('GET', `/displays/${id}`),
    enabled: id !== null,
  })
export const useInstruments = () => useGet<Instrument[]>('/instruments')
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
export const useFleetDrift = () => useGet<FleetDrift>('/drift')
export const useSlotHistory = (displayId: number, slot: number | null) =>
  useGet<SlotHistory>(`/drift/${displayId}${slot === null ? '' : `?slot=${slot}`}`)
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
