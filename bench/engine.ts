import { bytesPerRequest, measure, table } from './work.ts'

const COUNT = 1_000_000

console.log(table('Node', measure(COUNT)))
const { all, beyond } = bytesPerRequest(100_000)
console.log(`${all.toFixed(1)} bytes a request, ${beyond.toFixed(1)} of them beyond its sizes and times`)
