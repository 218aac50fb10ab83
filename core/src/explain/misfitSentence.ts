import type { Misfit } from '../service/misfit.ts'
import { bytes } from '../units/bytes.ts'
import { percent, threeDigits } from '../units/number.ts'

const devices = (n: number) => `${n} ${n === 1 ? 'device' : 'devices'}`
const needsDevices = (n: number) => (n === Infinity ? '' : `; needs ${devices(n)}`)

/** Why a replica can not be placed on a machine, with the figures that decide. */
export function misfitSentence(misfit: Misfit): string {
  switch (misfit.kind) {
    case 'memory':
      return misfit.weightBytes > misfit.totalBytes
        ? `weights ${bytes(misfit.weightBytes)}, memory ${bytes(misfit.totalBytes)}${needsDevices(misfit.devicesNeeded)}`
        : `weights, activations and reserve ${bytes(misfit.neededBytes)}, usable memory ${bytes(misfit.usableBytes)}: no room for a cache${needsDevices(misfit.devicesNeeded)}`
    case 'context':
      return `the cache holds ${threeDigits(misfit.cacheTokens)} tokens, one request may have ${threeDigits(misfit.contextTokens)}${needsDevices(misfit.devicesNeeded)}`
    case 'sold-context':
      return `it takes ${threeDigits(misfit.takes)} tokens, one request may have ${threeDigits(misfit.contextTokens)}`
    case 'sold-as':
      return `it is sold as ${misfit.soldAs}, not as ${misfit.asked}`
    case 'devices':
      return `a replica over ${devices(misfit.needed)}, the machine has ${misfit.inMachine}`
    case 'split':
      return `a replica over ${devices(misfit.devices)}; the machine splits into ${misfit.allowed.join(', ')}`
    case 'groups':
      return `${misfit.devices} devices are not whole machines of ${misfit.inMachine}`
    case 'no-link':
      return `no link between its devices is known: a replica over ${devices(misfit.devices)} can not be reckoned`
    case 'heads':
      return `${misfit.heads} ${misfit.which} heads do not divide evenly over ${misfit.devices} devices`
    case 'layers':
      return `${misfit.layers} layers do not divide evenly over ${misfit.hosts} machines`
    case 'no-host-link':
      return `a replica over ${devices(misfit.devices)}, the machine has ${misfit.inMachine} and no link to others is known`
    case 'arithmetic':
      return `no ${misfit.bits}-bit arithmetic: the device offers ${misfit.offered.map((b) => `${b}-bit`).join(', ')}`
    case 'host-memory':
      return `a replica takes ${bytes(misfit.neededBytes)} of host memory, the machine has ${bytes(misfit.hostBytes)}`
    case 'host-cores':
      return `a replica takes ${threeDigits(misfit.needed)} cores of the host, the machine has ${threeDigits(misfit.hostCores)}`
    case 'no-host':
      return 'cores and memory of the host are not stated'
    case 'memory-step':
      return `a replica takes ${bytes(misfit.neededBytes)}, the largest memory that is sold is ${bytes(misfit.largestBytes)}`
    case 'package':
      return `its files are ${bytes(misfit.fileBytes)}, the offer takes ${bytes(misfit.limitBytes)} at most`
    case 'disk':
      return `image${misfit.weightBytes > 0 ? ` and weights ${bytes(misfit.imageBytes + misfit.weightBytes)}` : ` ${bytes(misfit.imageBytes)}`}, disk ${bytes(misfit.diskBytes)}`
    case 'no-accelerator':
      return 'there is no accelerator behind this offer'
    case 'sequences':
      return `${misfit.asked} side by side, the ${misfit.boundBy} ${misfit.boundBy === 'cores' ? 'suffice' : 'has room'} for ${misfit.most}`
    case 'no-profile':
      return 'no step costs are given for this machine'
    case 'licence':
      return misfit.note === undefined
        ? 'nothing says that its licence allows production'
        : `its licence forbids production: ${misfit.note}`
    case 'quality':
      return qualityWords(misfit)
    case 'region':
    case 'zone':
      return `it stands in ${misfit.has}, and machines may stand in ${misfit.allowed.join(' or ')} alone`
    case 'provider':
      return `it is rented out by ${misfit.has}, and ${misfit.allowed.join(' or ')} alone may be asked`
    case 'trust':
      return `its host states a trust of ${misfit.has}, and at least ${misfit.least} is wanted`
    case 'dropped':
      return 'left out of the search'
  }
}

function qualityWords({ floor, score, samplesNeeded }: Extract<Misfit, { kind: 'quality' }>): string {
  if (!score) return `no quality score; the floor is ${percent(floor)}`
  const found = `quality ${percent(score.share)} over ${score.samples} samples lies between ${percent(score.low)} and ${percent(score.high)}, the floor is ${percent(floor)}`
  return samplesNeeded === Infinity ? found : `${found}: undecided below ${threeDigits(samplesNeeded)} samples`
}
