import { Button } from 'antd'
import { Component, type ReactNode } from 'react'

/** Around a view that comes when it is opened: when it does not come, says so, and offers to load the page anew. */
export class Arriving extends Component<{ children: ReactNode }, { failed: boolean }> {
  override state = { failed: false }

  static getDerivedStateFromError() {
    return { failed: true }
  }

  override render() {
    if (!this.state.failed) return this.props.children
    return (
      <div className="none" role="alert">
        <p style={{ marginBottom: 10 }}>
          This view did not arrive: the server is away, or was updated meanwhile. Nothing you did is lost.
        </p>
        <Button onClick={() => window.location.reload()}>Load the page anew</Button>
      </div>
    )
  }
}
