import { spawnSync } from 'node:child_process'
import { resolve } from 'node:path'
import { pathToFileURL } from 'node:url'
import { MessageChannel, receiveMessageOnPort, Worker, type MessagePort } from 'node:worker_threads'

/** What a command ended with, and what it wrote. */
export interface Ran {
  status: number
  stdout: string
  stderr: string
}

/** What was said, with spaces that break in place of those that do not. */
export const plain = (text: string): string => text.replaceAll(/[\u00a0\u202f]/g, ' ')

const LONGEST_MS = 300_000
/** One thread for all test files of a process. */
let running: { port: MessagePort; signal: Int32Array } | undefined

/**
 * Runs a command of the command line, in a thread of this process that has it loaded: hundreds of processes would mostly load it. That
 * it is a command, with standard input, signals and pipes, is shown by those tests that begin a process.
 */
export function sandclock(...args: string[]): Ran {
  const { port, signal } = (running ??= begun())
  Atomics.store(signal, 0, 0)
  port.postMessage(args)
  Atomics.wait(signal, 0, 0, LONGEST_MS)
  const said = receiveMessageOnPort(port) as { message: Ran } | undefined
  if (!said) throw new Error(`sandclock ${args.join(' ')} did not end`)
  return said.message
}

function begun() {
  // The command bundles itself when its sources have changed.
  spawnSync('node', ['cli/bin/sandclock.mjs', '--help'])
  const { port1, port2 } = new MessageChannel()
  const signal = new Int32Array(new SharedArrayBuffer(4))
  const thread = new Worker(resolve('cli/test/thread.mjs'), {
    workerData: { bundle: pathToFileURL(resolve('cli/dist/main.mjs')).href, port: port2, signal },
    transferList: [port2],
  })
  thread.unref()
  port1.unref()
  return { port: port1, signal }
}
