import { lazy, Suspense, type ComponentType } from 'react'
import { Link, Route, Routes } from 'react-router'
import { useSession } from './api/queries'
import { SignIn } from './access/SignIn'
import { useUnread } from './access/useUnread'
import { Floor } from './floor/Floor'
import { Frame } from './parts/Frame'
import { Loaded } from './parts/Loaded'

/** A view that comes when it is opened: signing in and Floor need none of it. */
const view = <K extends string>(load: () => Promise<Record<K, ComponentType>>, name: K) =>
  lazy(() => load().then((module) => ({ default: module[name] })))

const ApiPage = view(() => import('./access/ApiPage'), 'ApiPage')
const AimsPage = view(() => import('./aims/AimsPage'), 'AimsPage')
const BackupsPage = view(() => import('./ledger/BackupsPage'), 'BackupsPage')
const ComparePage = view(() => import('./review/ComparePage'), 'ComparePage')
const DisplayPage = view(() => import('./register/DisplayPage'), 'DisplayPage')
const DriftPage = view(() => import('./drift/DriftPage'), 'DriftPage')
const EvidencePage = view(() => import('./review/EvidencePage'), 'EvidencePage')
const FirstVisit = view(() => import('./access/FirstVisit'), 'FirstVisit')
const InventoryPage = view(() => import('./register/InventoryPage'), 'InventoryPage')
const LedgerPage = view(() => import('./ledger/LedgerPage'), 'LedgerPage')
const ModelsPage = view(() => import('./register/ModelsPage'), 'ModelsPage')
const NeedsPage = view(() => import('./floor/NeedsPage'), 'NeedsPage')
const OwnAccount = view(() => import('./access/OwnAccount'), 'OwnAccount')
const PeersPage = view(() => import('./peers/PeersPage'), 'PeersPage')
const PeerSetPage = view(() => import('./peers/PeerSetPage'), 'PeerSetPage')
const AddPeerSet = view(() => import('./peers/EditPeerSet'), 'AddPeerSet')
const EditPeerSet = view(() => import('./peers/EditPeerSet'), 'EditPeerSet')
const ByEyePage = view(() => import('./peers/ByEyePage'), 'ByEyePage')
const RingsPage = view(() => import('./peers/RingsPage'), 'RingsPage')
const PeoplePage = view(() => import('./access/PeoplePage'), 'PeoplePage')
const ProfileInspector = view(() => import('./review/ProfileInspector'), 'ProfileInspector')
const PutAwayPage = view(() => import('./register/PutAwayPage'), 'PutAwayPage')
const RoomPage = view(() => import('./register/light/RoomPage'), 'RoomPage')
const RegisterPage = view(() => import('./register/RegisterPage'), 'RegisterPage')
const ReviewList = view(() => import('./review/ReviewList'), 'ReviewList')
const ReviewPage = view(() => import('./review/ReviewPage'), 'ReviewPage')
const RolloutPage = view(() => import('./rollout/RolloutPage'), 'RolloutPage')
const PoliciesPage = view(() => import('./rollout/PoliciesPage'), 'PoliciesPage')
const PrepareWave = view(() => import('./rollout/PrepareWave'), 'PrepareWave')
const WavePage = view(() => import('./rollout/WavePage'), 'WavePage')
const RoundsPage = view(() => import('./rounds/RoundsPage'), 'RoundsPage')
const WeekPage = view(() => import('./rounds/WeekPage'), 'WeekPage')
const TourPage = view(() => import('./rounds/TourPage'), 'TourPage')
const DueRulesPage = view(() => import('./rounds/DueRulesPage'), 'DueRulesPage')
const DeskPage = view(() => import('./rounds/DeskPage'), 'DeskPage')
const KeptPage = view(() => import('./floor/KeptPage'), 'KeptPage')
const HousePage = view(() => import('./rounds/HousePage'), 'HousePage')
const RunSheet = view(() => import('./runs/RunSheet'), 'RunSheet')
const RunsPage = view(() => import('./runs/RunsPage'), 'RunsPage')
const SlotDriftPage = view(() => import('./drift/SlotDriftPage'), 'SlotDriftPage')
const SecondFactorFirst = view(() => import('./access/SecondFactorFirst'), 'SecondFactorFirst')
const Welcome = view(() => import('./access/Welcome'), 'Welcome')
const StartRun = view(() => import('./runs/StartRun'), 'StartRun')

/** Which view belongs to which address; signing in comes before all of them. */
export function Areas() {
  return (
    <Routes>
      {/* Opened by its link alone: nobody has to sign in for it. */}
      <Route
        path="desk/:token"
        element={
          <Suspense fallback={null}>
            <DeskPage />
          </Suspense>
        }
      />
      <Route path="*" element={<AreasOf />} />
    </Routes>
  )
}

function AreasOf() {
  // Whoever has just set up the second factor that was asked for still has to see the recovery codes.
  const unread = useUnread((s) => s.first && s.codes !== null)
  return (
    <Loaded query={useSession()}>
      {({ account, first }) =>
        account && (account.lacksSecondFactor || unread) ? (
          <Suspense fallback={null}>
            <SecondFactorFirst />
          </Suspense>
        ) : account ? (
          <Routes>
            <Route element={<Frame />}>
              <Route index element={<Floor />} />
              <Route path="needs" element={<NeedsPage />} />
              <Route path="kept" element={<KeptPage />} />
              <Route path="register" element={<RegisterPage />} />
              <Route path="register/models" element={<ModelsPage />} />
              <Route path="register/inventory" element={<InventoryPage />} />
              <Route path="register/put-away" element={<PutAwayPage />} />
              <Route path="register/rooms/:id" element={<RoomPage />} />
              <Route path="register/:id" element={<DisplayPage />} />
              <Route path="aims/:kind?/:id?" element={<AimsPage />} />
              <Route path="runs" element={<RunsPage />} />
              <Route path="runs/new" element={<StartRun />} />
              <Route path="runs/:id" element={<RunSheet />} />
              <Route path="review" element={<ReviewList />} />
              <Route path="review/compare" element={<ComparePage />} />
              <Route path="review/profiles" element={<ProfileInspector />} />
              <Route path="review/:id" element={<ReviewPage />} />
              <Route path="review/:id/evidence" element={<EvidencePage />} />
              <Route path="drift" element={<DriftPage />} />
              <Route path="drift/:id" element={<SlotDriftPage />} />
              <Route path="peers" element={<PeersPage />} />
              <Route path="peers/new" element={<AddPeerSet />} />
              <Route path="peers/rings" element={<RingsPage />} />
              <Route path="peers/:id" element={<PeerSetPage />} />
              <Route path="peers/:id/eye" element={<ByEyePage />} />
              <Route path="peers/:id/edit" element={<EditPeerSet />} />
              <Route path="rollout" element={<RolloutPage />} />
              <Route path="rollout/policies" element={<PoliciesPage />} />
              <Route path="rollout/waves/new" element={<PrepareWave />} />
              <Route path="rollout/waves/:id" element={<WavePage />} />
              <Route path="rounds" element={<RoundsPage />} />
              <Route path="rounds/week" element={<WeekPage />} />
              <Route path="rounds/tour" element={<TourPage />} />
              <Route path="rounds/rules" element={<DueRulesPage />} />
              <Route path="rounds/house" element={<HousePage />} />
              <Route path="ledger" element={<LedgerPage />} />
              <Route path="ledger/backups" element={<BackupsPage />} />
              <Route path="people" element={<PeoplePage />} />
              <Route path="account" element={<OwnAccount />} />
              <Route path="account/api" element={<ApiPage />} />
              <Route path="*" element={<Nowhere />} />
            </Route>
          </Routes>
        ) : (
          <Suspense fallback={null}>
            <Routes>
              <Route path="welcome" element={<Welcome />} />
              <Route path="*" element={first ? <FirstVisit /> : <SignIn />} />
            </Routes>
          </Suspense>
        )
      }
    </Loaded>
  )
}

function Nowhere() {
  return (
    <div className="none">
      There is nothing at this address. <Link to="/">Go to Floor</Link>
    </div>
  )
}
