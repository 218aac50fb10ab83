// Runs commands one after the other in one thread that has the command line loaded, and says what each wrote and ended with.
import { workerData } from 'node:worker_threads'

const { bundle, port, signal } = workerData
const { runCommand } = await import(bundle)
let wrote
for (const stream of ['stdout', 'stderr'])
  process[stream].write = (text) => {
    wrote[stream] += text
    return true
  }
port.on('message', async (args) => {
  wrote = { stdout: '', stderr: '' }
  const status = await runCommand(args).catch((error) => {
    wrote.stderr += error.stack
    return 70
  })
  port.postMessage({ status, ...wrote })
  Atomics.store(signal, 0, 1)
  Atomics.notify(signal, 0)
})
