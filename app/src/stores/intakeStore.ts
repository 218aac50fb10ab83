import type { CatalogueReading, FileKind, MeasurementReading, ModelShape, StartLogReading } from '@sandclock/core'
import { defineStore } from 'pinia'
import { shallowRef } from 'vue'
import { takenFor, troubleOf, type Trouble } from './planStore.ts'

/** What was found in a dropped file of machines, models, measurements or start-ups, until it is taken in or put away. */
export type Intake = { fileName: string } & (
  | { kind: 'catalogue'; reading: CatalogueReading }
  | { kind: 'model'; shape: ModelShape }
  | { kind: 'measurements'; reading: MeasurementReading }
  | { kind: 'starts'; reading: StartLogReading }
)

const WHAT: Partial<Record<FileKind['kind'], string>> = {
  catalogue: 'catalogue of machines',
  model: 'shape of a model',
  measurements: 'table of load tests',
  starts: 'log of start-ups',
}

export const useIntakeStore = defineStore('intake', () => {
  const intake = shallowRef<Intake | null>(null)
  const trouble = shallowRef<Trouble | null>(null)

  /** What a file is, by its text. */
  async function kindOf(fileName: string, text: string): Promise<FileKind['kind']> {
    return (await import('../data/fileReaders.ts')).fileKind(text, fileName).kind
  }

  /** Reads a catalogue, a model, measurements or start-ups. */
  async function read(fileName: string, text: string): Promise<void> {
    const { fileKind, readCatalogue, readMeasurements, readModelShape, readStartLog } = await import('../data/fileReaders.ts')
    const kind = fileKind(text, fileName)
    trouble.value = null
    try {
      if (kind.kind === 'catalogue') intake.value = { kind: 'catalogue', fileName, reading: readCatalogue(text, kind.syntax) }
      else if (kind.kind === 'model') intake.value = { kind: 'model', fileName, shape: readModelShape(text, fileName) }
      else if (kind.kind === 'measurements') intake.value = { kind: 'measurements', fileName, reading: readMeasurements(text) }
      else if (kind.kind === 'starts') intake.value = { kind: 'starts', fileName, reading: readStartLog(text) }
    } catch (error) {
      trouble.value = takenFor(WHAT[kind.kind] ?? 'file of another kind', fileName, troubleOf(error))
    }
  }

  return { intake, trouble, kindOf, read, putAway: () => (intake.value = null) }
})
