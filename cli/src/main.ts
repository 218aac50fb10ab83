import { BadInput } from '@sandclock/core/plan/problem' // alone: what a command needs of the core comes with it
import { Command, CommanderError, Option } from 'commander'
import { BAD_INPUT, MET, type ExitStatus } from './exitStatus.ts'

const program = new Command('sandclock')
  .description('Which machines, how many copies, and what it costs: settled before anything is rented.')
  .showHelpAfterError('(add --help for the commands and their options)')
  .addHelpText('after', '\nExit status: 0 targets met, 1 not met, 2 bad input.')
  .exitOverride()

let status: ExitStatus = MET
/** Runs a command, read only when it is wanted, for what it ends with. */
const run =
  <A extends unknown[]>(read: () => Promise<(...args: A) => Promise<ExitStatus>>) =>
  async (...args: A) =>
    void (status = await (await read())(...args))

/** A log may be several files. */
const requestsOption = (words: string) =>
  new Option(
    '--requests <file>',
    `${words} (CSV, TSV, JSON lines or Parquet; plain, gzip or zstd); again for each further file of it`,
  ).argParser((file: string, before: string[] = []) => [...before, file])
/** How long each request took. */
const aboutTimes = (command: Command) =>
  command
    .option('--distributions [file]', 'how long each request took, by class and measure: as text, or in a file as bins (JSON)')
    .option('--within <stretch>', 'only of requests that come in it, such as "Mon 08:00 to Mon 12:00"')
    .option(
      '--wait-left <file>',
      'write how long it still is until a replica is ready, for who has waited so long, as JSON for a page that shows it',
    )
const COLUMNS = 'which column of the log is what, such as "arrival=ts,input=prompt_tokens,time=milliseconds"; told by names if left out'

program
  .command('begin')
  .description('write a whole plan from a few figures, as YAML; what was not said is assumed and marked so')
  .option(
    '--from <log>',
    'a request log, a metrics history, or the address of a monitoring server, whose load it has; again for each further file of it',
    (file: string, before: string[] = []) => [...before, file],
  )
  .option('--columns <list>', COLUMNS)
  .option(
    '--metrics <list>',
    'which metric of a history is what, such as "arrivals=calls_total,input=prompt_tokens_total"; told by names if left out',
  )
  .option('--by <label>', 'label of a history whose values are classes; guessed if left out')
  .option('--select <metrics>', 'which metrics of a monitoring server, in its own way of selecting them; all if left out')
  .option('--past <time>', 'how far back it is asked for; 8 d if left out')
  .option('--step <time>', 'from sample to sample; 5 min if left out')
  .option('--allow-host <name...>', 'machines that may be asked beside this one')
  .option('--as <way>', 'such (a load that is drawn like the log) or came (the log itself, once); such if left out')
  .option('--leave <list>', 'what is not taken of the log: week, hours, growth, bursts, correlation, sessions')
  .option('--scale <n>', 'multiplies the rates of the log')
  .option('--shift <hours>', 'moves its hours of the day so many later')
  .option('--grow <share>', 'growth a month in place of that of the log, such as 0.1')
  .option('--variation <n>', 'how much the gaps within a step of a history vary, 1 is pure chance, which is taken if left out')
  .option('--like <opening>', 'chat, documents, pictures, classifier, bulk or experts; chat if left out')
  .option('--rate <n>', 'requests a second at the busiest')
  .option('--day <kind>', 'office, evening, even, night or tides')
  .option('--input <n>', 'tokens of a usual prompt; steps or units of fixed work')
  .option('--output <n>', 'tokens of a usual answer')
  .option('--ttft <seconds>', 'the first token comes within this (chat, experts)')
  .option('--latency <seconds>', 'the whole answer comes within this (the others)')
  .option(
    '--model <shape>',
    'a shape by size and kind (3b, 8b, 14b, 32b, 70b, experts, sketch or sorter), or the published shape file of yours',
  )
  .option('--facts <list>', 'what that file does not tell, such as "contextTokens=16384"')
  .option('--on <machine>', 'in place of a model: the machine of the offers on which a speed was seen')
  .option('--alone <n>', 'tokens (steps, work units) a second that one request alone gets there')
  .option('--together <n>', 'the same of each of several side by side')
  .option('--side-by-side <n>', 'how many those were')
  .option('--reads <n>', 'prompt tokens a second')
  .option('--weights <bytes>', 'size of the weights, such as 16GB')
  .option('--offers <file>', 'a catalogue of machines (.csv, .json, .yaml); an invented market if left out')
  .option('--provider <name...>', 'only these providers of it')
  .option('--budget <amount>', 'what it may cost a month')
  .option('--currency <code>', 'the currency of the offers', 'EUR')
  .option('--json', 'write JSON; what is assumed goes to standard error')
  .option('--out <file>', 'write to a file instead of standard output')
  .action(run(async () => (await import('./commands/begin.ts')).beginCommand))

/** Which request to which replica, with a plan or without. */
const aboutOne = (command: Command) =>
  command
    .option('--service <name>', 'which service, where there are several')
    .option('--on <machine>', 'where; the cheapest that takes it if left out')
    .option('--variant <name>', 'which variant of the model')
    .option('--devices <n>', 'devices of the replica')
    .option('--side-by-side <n>', 'requests that it takes at once')
    .option('--prompt <n>', 'its prompt tokens, or its work')
    .option('--prompt-file <file>', 'the prompt itself, whose tokens are estimated')
    .option('--answer <n>', 'tokens of its answer')
    .option('--finds <what>', 'nothing, stopped or warm: what is there when it is called')
    .option('--idle-before <time>', 'how long nobody called before it, which says what it finds')
    .option('--kept <time>', 'how long the machine is kept after it')
    .option('--way <time>', 'from its caller to the service, and as long back; as its class states it if left out')
    .option('--model <shape>', 'without a plan: a shape by size and kind, or the published shape file of yours')
    .option('--facts <list>', 'what that file does not tell, such as "contextTokens=16384"')
    .option('--alone <n>', 'without a model: tokens a second that one request alone gets on that machine')
    .option('--together <n>', 'the same of each of several side by side')
    .option('--reads <n>', 'prompt tokens a second')
    .option('--weights <bytes>', 'size of the weights, such as 16GB')
    .option('--offers <file>', 'a catalogue of machines (.csv, .json, .yaml); an invented market if left out')
    .option('--currency <code>', 'the currency of the offers', 'EUR')

aboutOne(program.command('one'))
  .argument('[plan]', 'plan file; without one a model and a machine are said')
  .description(
    'lay one request out along the clock and along money: start-up, waiting, prompt, each token, until the machine is given back',
  )
  .option('--others <list>', 'others in service beside it, such as 0,1,8; 0 if left out')
  .option(
    '--mine <figure...>',
    'own estimates to be taken apart: memory=28GB (of the replica), time=8.2s (to the end), month=1300 (there all the time)',
  )
  .option(
    '--saw <figure...>',
    'what a stopwatch read of a real try: whole=8.2 (seconds), first=0.4, speed=42 (tokens a second); @3 for three others',
  )
  .option('--json', 'print it as JSON')
  .action(run(async () => (await import('./commands/one.ts')).oneCommand))

aboutOne(program.command('session'))
  .argument('[plan]', 'plan file; without one a model and a machine are said')
  .description('lay some use of one replica out: what it costs, and what each way of ending it, or of forgetting it, costs after it')
  .option('--requests <n>', 'how many, one after the other; 12 if left out')
  .option('--pause <time>', 'from the end of one to the next; 2min if left out')
  .option('--rate <n>', 'a small load in place of requests by hand: so many an hour, as chance has it')
  .option('--lasts <time>', 'how long they come; 2h if left out')
  .option('--begins <hour>', 'of the day; 14:00 if left out')
  .option('--idle <time>', 'idle for so long it is given back by itself; 30min if left out')
  .option('--until <hour>', 'until which it may be left on; 18:00 if left out')
  .option('--worth <amount>', 'what it is worth that a caller does not wait for a start-up; 0 if left out')
  .option('--json', 'print it as JSON')
  .action(run(async () => (await import('./commands/session.ts')).sessionCommand))

aboutTimes(program.command('recommend'))
  .argument('<plan>', 'plan file')
  .description('search for the cheapest configuration that meets every target')
  .option('--json', 'print the answer as JSON')
  .addOption(requestsOption('replace the load by a request log'))
  .option('--columns <list>', COLUMNS)
  .option('--per-request <out>', 'write a CSV with the times of every request under the recommended configuration')
  .option('--explain', 'say in words why the answer is what it is')
  .option(
    '--worlds [n]',
    'run what is rented in so many worlds, where what the plan states is off by chance as its doubts allow (doubt), and say in how many it holds; 100 if nothing is said',
  )
  .option('--all', 'list every rejected option, not only the groups')
  .option(
    '--details',
    'show what is behind each recommended configuration: start-up, supply, the day, money, quality, latencies, waits, cold callers, machines against calls',
  )
  .option('--out <file>', 'write the answer to a file instead of standard output')
  .option('--frontier <file>', 'write the configurations around the ranked ones, what they cost and how near each is to a promise, as JSON')
  .option('--threads <n>', 'threads to simulate in; the answer is the same for any number')
  .action(run(async () => (await import('./commands/recommend.ts')).recommendCommand))

aboutTimes(program.command('simulate'))
  .argument('<plan>', 'plan file whose services state a configuration')
  .description('simulate the stated configuration of every service')
  .option('--json', 'print the result as JSON')
  .addOption(requestsOption('replace the load by a request log'))
  .option('--columns <list>', COLUMNS)
  .option('--per-request <out>', 'write a CSV with the times of every request')
  .option('--details', 'show what is behind each configuration: start-up, supply, the day, money, quality, latencies, waits, cold callers')
  .option(
    '--side-by-side [list]',
    'a load test on paper in place of the load: so many callers at once, such as 1,2,4,8,16,32; up to beyond its places if left out',
  )
  .option('--rates [list]', 'the same with so many new callers a second, as chance has it; climbing to what it bears if left out')
  .option('--sizes <list>', 'what a load test sends: drawn, short or long requests, or several of them, such as short,long')
  .action(run(async () => (await import('./commands/simulate.ts')).simulateCommand))

program
  .command('check')
  .argument('<plan>', 'plan file whose services state a configuration')
  .description(
    'say whether the stated configurations still keep their promises, and describe what happens; exit status 1 when one does not',
  )
  .addOption(requestsOption('replace the load by a request log'))
  .option(
    '--against <log>',
    'what happened, a log with how long each request took or a metrics history: where it drifts from the plan, since when, and what explains it; again for each further file of it',
    (file: string, before: string[] = []) => [...before, file],
  )
  .option('--metrics <list>', 'which metric of such a history is what, such as "arrivals=calls_total,latency=call_seconds"')
  .option('--tolerance <share>', 'how far it may be off, in times and in load; 15 % if left out')
  .option('--columns <list>', COLUMNS)
  .action(run(async () => (await import('./commands/check.ts')).checkCommand))

program
  .command('fit')
  .argument('<plan>', 'plan file')
  .description('show what fits where, how full and how fast one replica is')
  .option('--json', 'print the table as JSON')
  .addOption(requestsOption('take the lengths from a request log'))
  .option('--columns <list>', COLUMNS)
  .action(run(async () => (await import('./commands/fit.ts')).fitCommand))

program
  .command('stand-in')
  .argument('<plan>', 'plan file')
  .description('serve, in real time and to this machine alone, what the configuration of a plan would: to be asked, and measured')
  .option('--service <name>', 'which of its services; the only one if left out')
  .option('--port <n>', 'where it listens; any that is free if left out')
  .option('--speed <n>', 'so many times as fast as the clock; 1 if left out')
  .option('--fail <share>', 'this share of the requests fails in the middle of its answer, such as 0.01')
  .action(run(async () => (await import('./commands/standIn.ts')).standInCommand))

program
  .command('measure')
  .argument('<how>', 'how to ask the endpoint: YAML of the format sand-clock-how-to-ask (docs/measure.md)')
  .description(
    'send requests to a real endpoint and tell how long they took; exit status 1 when none finished, or the probe was too late itself',
  )
  .option('--calls <n>', 'so many calls, one after another; one call if no load is named')
  .option('--at-once [list]', 'so many callers at once, such as 1,4,16; 1, 2, 4 … until no more are answered a second if left out')
  .option('--each <n>', 'requests of each of them; 8 if left out')
  .option('--rates <list>', 'so many new requests a second, as chance has it, such as 1,2,4: until what is promised breaks')
  .option('--lasts <time>', 'how long each rate lasts; 60 s if left out')
  .option('--first-token <time>', 'what 95 of 100 are promised until the first token: a rate that breaks it is the last')
  .option('--latency <time>', 'what 95 of 100 are promised until the whole answer: a rate that breaks it is the last')
  .addOption(requestsOption('at the times, and with the sizes, of a request log'))
  .option('--columns <list>', COLUMNS)
  .option('--after-idle <time>', 'the first call after so long without any')
  .option('--times <n>', 'how often that; 3 if left out')
  .option(
    '--find-idle [time]',
    'after how long without a call it sleeps: from this time on, doubled until it does; 1 min if nothing is said',
  )
  .option('--most-idle <time>', 'the longest time without a call that is tried for it; 30 min if left out')
  .option(
    '--find-costs [list]',
    'so many at once, to find step costs behind, and two loads to judge them by: at 70 % of what the best answered, and a spike; 1,4,16 if nothing is said',
  )
  .option(
    '--sizes <list>',
    'tokens of prompt + answer, in turn, such as 200+50,4000+400; 256+64 if left out, 200+60,1600+120 to find costs',
  )
  .option('--apart', 'each of the sizes apart')
  .option('--prompts <file>', 'prompts of your own, one a line, in turn')
  .option('--warm-up <n>', 'calls before, that are not counted; 1 if left out, none after idle')
  .option('--seed <n>', 'of the chance in arrivals; 1 if left out')
  .option('--most-requests <n>', 'it sends no more than these; 1,000 if left out')
  .option('--most-time <time>', 'it takes no longer than this; 10 min beyond the load’s own times if left out')
  .option('--most-money <amount>', 'it costs no more than this, by the price in the file')
  .option('--allow-host <name...>', 'machines that may be asked beside this one')
  .option('--out <file>', 'write a CSV with every request')
  .option('--histogram <file>', 'write how often each time was seen (JSON)')
  .option('--json <file>', 'write what is told as JSON')
  .action(run(async () => (await import('./commands/measure.ts')).measureCommand))

program
  .command('costs')
  .argument('<rows>', 'measured requests, as measure --out writes them')
  .description(
    'find the step costs behind measured requests, and lay what they predict beside others; exit status 1 when there are no others',
  )
  .option('--judge <rows>', 'measured requests that are not fitted, but predicted; the last part of the others if left out')
  .option('--sequences <n>', 'side by side in one replica; no limit if left out')
  .option('--replicas <n>', 'of the service that was measured; 1 if left out')
  .option('--chunks', 'prompts are read in chunks beside those that are being answered, not in steps of their own')
  .option('--how <file>', 'how they were asked: what it says a request costs is said of one further measurement')
  .option('--cache-tokens <n>', 'tokens that the cache of one replica holds, for the file: a plan wants it, and no measurement shows it')
  .option('--out <file>', 'write the step costs as JSON, for configuration.profile of a plan')
  .action(run(async () => (await import('./commands/costs.ts')).costsCommand))

program
  .command('starts')
  .argument('<log>', 'start-ups that were timed, a row a stage: start, stage, and seconds or at (docs/measure.md)')
  .argument('<plan>', 'plan file')
  .description('lay start-ups that were timed beside those of a plan, stage by stage')
  .option('--service <name>', 'of which service; the first that starts up by stages if left out')
  .option('--variant <name>', 'whose weights were read; the first that fits if left out')
  .option('--out <file>', 'write the plan with the stages as they were timed')
  .action(run(async () => (await import('./commands/starts.ts')).startsCommand))

// Who reads the first lines only closes the pipe: that is no error.
process.stdout.on('error', (error: NodeJS.ErrnoException) => {
  if (error.code === 'EPIPE') process.exit()
  throw error
})

/** Runs what the arguments say and turns bad input into a sentence. @returns its exit status */
export async function runCommand(args: readonly string[]): Promise<ExitStatus> {
  try {
    await program.parseAsync(args, { from: 'user' })
    return status
  } catch (error) {
    if (error instanceof CommanderError) return error.exitCode === 0 ? MET : BAD_INPUT
    if (!(error instanceof BadInput)) throw error
    process.stderr.write(`${error.message}\n`)
    return BAD_INPUT
  }
}
