import { fireEvent } from '@testing-library/react'

/** jsdom lays nothing out: from here on a window is 800 by 600 px, and rows of tables are so high. */
export function layOut(rowHeight: number): void {
  const heightOf = (element: Element) => (element.tagName === 'TR' ? rowHeight : 600)
  const got = (name: string, get: (this: HTMLElement) => number) =>
    Object.defineProperty(HTMLElement.prototype, name, { configurable: true, get })
  got('clientHeight', () => 600)
  got('clientWidth', () => 800)
  got('offsetHeight', function () {
    return heightOf(this)
  })
  Element.prototype.getBoundingClientRect = function (this: Element) {
    const height = heightOf(this)
    return { x: 0, y: 0, top: 100, left: 0, right: 800, bottom: 100 + height, width: 800, height, toJSON: () => ({}) }
  }
  Element.prototype.scrollTo = function (this: Element, to?: ScrollToOptions | number) {
    this.scrollTop = typeof to === 'object' ? (to.top ?? 0) : (to ?? 0)
    // Told afterwards, as browsers do.
    setTimeout(() => fireEvent.scroll(this))
  } as never
}
