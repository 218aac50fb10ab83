import type { Model, Variant } from '@sandclock/core'
import { machines } from './catalogue.ts'
import { loadTestRows } from './loadTest.ts'

const free = { production: true, note: 'Estuary Open Licence: any use with attribution' }
const research = { production: false, note: 'Foreshore Licence: research and evaluation only' }
const judged = 'harbour questions, judged by two pilots'
const score = (value: number, samples: number) => ({ score: value, samples, of: judged })
const BYTES_PER_GB = 1e9

const sixteen = (gigabytes: number, quality: Variant['quality']): Variant => ({
  name: '16-bit',
  format: 'as published',
  weightBits: 16,
  cacheBits: 16,
  arithmeticBits: 16,
  diskBytes: gigabytes * BYTES_PER_GB,
  ...(quality && { quality }),
  licence: free,
})
const eight = (gigabytes: number, quality: Variant['quality']): Variant => ({
  name: '8-bit',
  format: 'blocks of 128',
  weightBits: 8,
  groupSize: 128,
  scaleBits: 16,
  cacheBits: 16,
  arithmeticBits: 8,
  diskBytes: gigabytes * BYTES_PER_GB,
  ...(quality && { quality }),
  licence: free,
})
/** Unpacked to 16 bits for reckoning: small, but its kernels reach less of a machine's bandwidth. */
const four = (gigabytes: number, quality: Variant['quality']): Variant => ({
  name: '4-bit',
  format: 'packed groups',
  weightBits: 4,
  groupSize: 32,
  scaleBits: 16,
  cacheBits: 16,
  arithmeticBits: 16,
  efficiency: { memory: 0.62, arithmetic: 0.4 },
  diskBytes: gigabytes * BYTES_PER_GB,
  ...(quality && { quality }),
  licence: free,
})

const eye = (device: string, baseSeconds: number, secondsPerWorkUnit: number) =>
  machines
    .filter((m) => m.device === device)
    .map((m) => ({ machine: m.name, devices: 1, profile: { kind: 'batch' as const, baseSeconds, secondsPerWorkUnit } }))

/** Model families are wading birds. Every figure is invented. */
export const models: Model[] = [
  {
    kind: 'dense',
    name: 'Curlew 14B',
    parameters: 14e9,
    layers: 40,
    width: 5120,
    keyValueHeads: 8,
    headSize: 128,
    contextTokens: 32768,
    activationBytes: 1.2e9,
    variants: [
      sixteen(28.1, score(0.862, 1200)),
      {
        ...eight(14.4, score(0.859, 1200)),
        measurements: [
          { machine: 'Northquay ledge', source: 'Harbour office trial of February 2027, one replica, warmed up', rows: loadTestRows() },
        ],
      },
      four(8.0, score(0.848, 400)),
      { ...four(7.6, score(0.851, 120)), name: '4-bit, tuned', licence: research },
    ],
  },
  {
    kind: 'dense',
    name: 'Dunlin 3B',
    parameters: 3.1e9,
    layers: 28,
    width: 3072,
    keyValueHeads: 8,
    headSize: 96,
    contextTokens: 32768,
    activationBytes: 0.8e9,
    variants: [sixteen(6.3, score(0.771, 800)), eight(3.3, score(0.768, 800))],
  },
  {
    kind: 'dense',
    name: 'Godwit 70B',
    parameters: 70e9,
    layers: 80,
    width: 8192,
    keyValueHeads: 8,
    headSize: 128,
    contextTokens: 65536,
    activationBytes: 2.5e9,
    variants: [sixteen(141, score(0.903, 600)), eight(72, score(0.9, 600)), four(40, score(0.889, 600))],
  },
  {
    kind: 'experts',
    name: 'Avocet 8×6B',
    parameters: 38e9,
    activeParameters: 11.2e9,
    experts: 8,
    expertsPerToken: 2,
    layers: 32,
    width: 4096,
    keyValueHeads: 8,
    headSize: 128,
    contextTokens: 32768,
    outputCap: 8192,
    activationBytes: 1.5e9,
    variants: [sixteen(76, score(0.874, 500)), eight(39, score(0.871, 500)), four(21.6, undefined)],
  },
  {
    kind: 'given',
    name: 'Turnstone eye',
    weightBytes: 5.2e9,
    variants: [
      {
        name: '16-bit',
        licence: free,
        diskBytes: 5.2e9,
        profiles: [
          ...eye('Gabbro 24', 0.09, 0.021),
          ...eye('Gabbro 24, first series', 0.13, 0.036),
          ...eye('Gabbro 48', 0.08, 0.0145),
          ...eye('Dolerite 96', 0.06, 0.0042),
          ...eye('Slate CPU', 0.4, 0.62),
        ],
      },
    ],
  },
  {
    kind: 'iterative',
    name: 'Sanderling sketch',
    parameters: 2.6e9,
    fixedOperations: 3e12,
    operationsPerStep: 1.2e12,
    activationBytes: 1e9,
    activationBytesPerItem: 1.6e9,
    variants: [{ name: '16-bit', weightBits: 16, arithmeticBits: 16, licence: free, diskBytes: 5.3e9 }],
  },
  {
    kind: 'cpu',
    name: 'Knot sorter',
    baseSeconds: 0.006,
    secondsPerUnit: 0.0008,
    coresPerRequest: 1,
    memoryBytes: 0.7e9,
    memoryBytesPerRequest: 0.05e9,
    slowdown: 0.01,
    variants: [{ name: 'as trained', licence: free, diskBytes: 0.4e9 }],
  },
]
