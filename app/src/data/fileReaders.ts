/** What reads the files of the market: loaded when the first of them comes, with the parsers that it needs. */
export { fileKind, readCatalogue, readMeasurements, readModelShape, readPlanYaml, readStartLog, rewritePlanYaml } from '@sandclock/core'
