import type { CpuModel, Machine, Model, Service } from '../plan/schema.ts'

/** The least that can be added to a fleet: one machine with its replicas, or the machines over which one replica lies. */
export interface Group {
  machines: number
  replicas: number
  /** what keeps more replicas from one machine */
  boundBy: 'devices' | 'cores' | 'host memory'
}

/**
 * Replicas that one machine has room for (docs/model.md, 3): by its devices and by what each takes of the host;
 * over several machines one. A CPU model goes by cores and memory of the host alone, and takes all cores where its service
 * says nothing.
 *
 * @param sequences side by side in a replica, each with its memory
 * @example four devices, 2 a replica: { machines: 1, replicas: 2, boundBy: 'devices' }; 8 a replica: { machines: 2, replicas: 1, … }
 */
export function groupOf(
  { host = {} }: Pick<Service, 'host'>,
  model: Model,
  machine: Pick<Machine, 'devices' | 'hostCores' | 'hostMemoryBytes'>,
  devices: number,
  sequences: number,
): Group {
  const onCores = model.kind === 'cpu'
  if (!onCores && devices > machine.devices) return { machines: Math.ceil(devices / machine.devices), replicas: 1, boundBy: 'devices' }
  const memoryBytes = host.memoryBytes ?? (onCores ? cpuBytes(model, sequences) : 0)
  const cores = host.cores ?? (onCores ? (machine.hostCores ?? Infinity) : 0)
  const room: [Group['boundBy'], number][] = [
    ...(onCores ? [] : [['devices', Math.floor(machine.devices / devices)] as [Group['boundBy'], number]]),
    ['cores', timesIn(machine.hostCores, cores)],
    ['host memory', timesIn(machine.hostMemoryBytes, memoryBytes)],
  ]
  const [boundBy, replicas] = room.reduce((a, b) => (b[1] < a[1] ? b : a))
  return { machines: 1, replicas: Math.max(1, replicas), boundBy }
}

const timesIn = (has: number | undefined, each: number) =>
  has === undefined || each === 0 ? Infinity : has === each ? 1 : Math.floor(has / each + 1e-9)

/** Host memory of a replica of a CPU model with so many requests side by side. */
export function cpuBytes(model: CpuModel, sequences: number): number {
  return model.memoryBytes + model.memoryBytesPerRequest * sequences
}

/** Cores and memory that one replica of a CPU model may use: what its service gives it, else those of the host. */
export function cpuRoom(
  { host }: Pick<Service, 'host'>,
  { hostCores, hostMemoryBytes }: Machine,
): { cores: number; memoryBytes: number } | undefined {
  if (hostCores === undefined || hostMemoryBytes === undefined) return undefined
  return { cores: host?.cores ?? hostCores, memoryBytes: host?.memoryBytes ?? hostMemoryBytes }
}
