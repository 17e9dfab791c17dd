import { renderToStaticMarkup } from 'react-dom/server'
import type { ReactElement } from 'react'
import { MemoryRouter } from 'react-router'

/** The markup of a part of the interface. */
export const markup = (element: ReactElement): string => renderToStaticMarkup(<MemoryRouter>{element}</MemoryRouter>)

/** The text of markup, tags taken out. */
export const textOf = (html: string): string =>
  html
    .replace(/<style.*?<\/style>/g, '')
    .replace(/<[^>]+>/g, ' ')
    .replace(/&#x27;/g, "'")
    .replace(/&gt;/g, '>')
    .replace(/&lt;/g, '<')
    .replace(/\s+/g, ' ')
    .trim()

/** How often something stands in markup. */
export const count = (html: string, what: string | RegExp): number => html.split(what).length - 1
