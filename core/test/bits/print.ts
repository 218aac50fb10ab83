import { bits } from './bits.ts'

process.stdout.write(JSON.stringify(bits()))
