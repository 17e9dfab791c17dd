import { Link, Route, Routes } from 'react-router'
import { useSession } from './api/queries'
import { SignIn } from './access/SignIn'
import { AimsPage } from './aims/AimsPage'
import { DriftPage } from './drift/DriftPage'
import { SlotDriftPage } from './drift/SlotDriftPage'
import { Floor } from './floor/Floor'
import { Frame } from './parts/Frame'
import { Loaded } from './parts/Loaded'
import { DisplayPage } from './register/DisplayPage'
import { RegisterPage } from './register/RegisterPage'
import { ComparePage } from './review/ComparePage'
import { ProfileInspector } from './review/ProfileInspector'
import { ReviewList } from './review/ReviewList'
import { ReviewPage } from './review/ReviewPage'
import { RolloutPage } from './rollout/RolloutPage'
import { RoundsPage } from './rounds/RoundsPage'
import { RunSheet } from './runs/RunSheet'
import { RunsPage } from './runs/RunsPage'
import { StartRun } from './runs/StartRun'

/** Which view belongs to which address; signing in comes before all of them. */
export function Areas() {
  return (
    <Loaded query={useSession()}>
      {({ account }) =>
        account ? (
          <Routes>
            <Route element={<Frame />}>
              <Route index element={<Floor />} />
              <Route path="register" element={<RegisterPage />} />
              <Route path="register/:id" element={<DisplayPage />} />
              <Route path="aims/:kind?/:id?" element={<AimsPage />} />
              <Route path="runs" element={<RunsPage />} />
              <Route path="runs/new" element={<StartRun />} />
              <Route path="runs/:id" element={<RunSheet />} />
              <Route path="review" element={<ReviewList />} />
              <Route path="review/compare" element={<ComparePage />} />
              <Route path="review/profiles" element={<ProfileInspector />} />
              <Route path="review/:id" element={<ReviewPage />} />
              <Route path="drift" element={<DriftPage />} />
              <Route path="drift/:id" element={<SlotDriftPage />} />
              <Route path="rollout" element={<RolloutPage />} />
              <Route path="rounds" element={<RoundsPage />} />
              <Route path="*" element={<Nowhere />} />
            </Route>
          </Routes>
        ) : (
          <SignIn />
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
