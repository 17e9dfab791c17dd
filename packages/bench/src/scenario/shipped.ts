import { readInstrument, type InstrumentModel } from '../instrument/instrumentSchema'
import { readPanel, type PanelTraits } from '../panel/panelSchema'
import heronS1 from '../../instruments/heron-s1.json'
import tesselC3 from '../../instruments/tessel-c3.json'
import haldenP4 from '../../panels/halden-p4.json'
import marramM32 from '../../panels/marram-m32.json'
import ostrelReed24 from '../../panels/ostrel-reed-24.json'
import quillonQ24 from '../../panels/quillon-q24.json'
import quillonQ27 from '../../panels/quillon-q27.json'
import sorrelL16 from '../../panels/sorrel-l16.json'
import tarnPen22 from '../../panels/tarn-pen-22.json'
import vesperO25 from '../../panels/vesper-o25.json'
import vesperW48 from '../../panels/vesper-w48.json'
import wrenF7 from '../../panels/wren-f7.json'

/** Panel files that ship with the bench, by name. */
export const shippedPanels: Readonly<Record<string, unknown>> = {
  'quillon-q27': quillonQ27,
  'quillon-q24': quillonQ24,
  'marram-m32': marramM32,
  'vesper-o25': vesperO25,
  'vesper-w48': vesperW48,
  'ostrel-reed-24': ostrelReed24,
  'tarn-pen-22': tarnPen22,
  'sorrel-l16': sorrelL16,
  'wren-f7': wrenF7,
  'halden-p4': haldenP4,
}

/** Instrument files that ship with the bench, by name. */
export const shippedInstruments: Readonly<Record<string, unknown>> = {
  'tessel-c3': tesselC3,
  'heron-s1': heronS1,
}

export const shippedPanel = (name: string): PanelTraits => readPanel(shippedPanels[name])
export const shippedInstrument = (name: string): InstrumentModel => readInstrument(shippedInstruments[name])
