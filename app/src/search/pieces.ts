import type { Answer, RecommendProgress, RejectedOption } from '@sandclock/core'
import { nextTask } from '../composables/frames.ts'

/** Some of what an answer passed over, of its service number `service`. */
export interface Piece {
  service: number
  rejected: RejectedOption[]
}

/** Who hears of a search in another thread. */
export interface Listener {
  /** what belongs to the next answer: all of its pieces come before it */
  piece: (piece: Piece) => void | Promise<void>
  /** an answer in it is without its pieces, and is taken once it is seen */
  progress: (progress: RecommendProgress) => void | Promise<void>
}

/** So many options are read by a page within a few milliseconds. */
const OPTIONS_OF_A_PIECE = 250

/** What an answer passed over, piece by piece. */
export function* piecesOf({ services }: Answer): Generator<Piece> {
  for (const [service, { rejected }] of services.entries())
    for (let from = 0; from < rejected.length; from += OPTIONS_OF_A_PIECE)
      yield { service, rejected: rejected.slice(from, from + OPTIONS_OF_A_PIECE) }
}

const withRejected = (answer: Answer, rejectedOf: (service: number) => RejectedOption[]): Answer => ({
  ...answer,
  services: answer.services.map((s, i) => ({ ...s, rejected: rejectedOf(i) })),
})

/** An answer as lines of JSON, in which it is kept: first all but what it passed over, then that, piece by piece. */
export const linesOf = (answer: Answer): string[] =>
  [withRejected(answer, () => []), ...piecesOf(answer)].map((part) => JSON.stringify(part))

/**
 * An answer of its lines, each of them read in a task of its own: to read a large one at once would hold a page up.
 *
 * @param readHead what the first must say; undefined ends the reading
 * @param readPiece what each of the others must say
 * @throws SyntaxError where a line is no JSON
 */
export async function answerOfLines(
  [first, ...lines]: readonly string[],
  readHead: (value: unknown) => Answer | undefined,
  readPiece: (value: unknown) => Piece,
): Promise<Answer | undefined> {
  const head = readHead(JSON.parse(first))
  if (!head) return undefined
  const reader = new PieceReader()
  for (const line of lines) {
    await nextTask()
    reader.piece(readPiece(JSON.parse(line)))
  }
  await nextTask()
  return reader.answer(head)
}

/**
 * Sends answers in pieces, of which each is one task of a page: to read a large answer at once would hold it up. What is told
 * of a search keeps its order.
 */
export class PieceSender {
  private readonly to: Listener
  private sent: Promise<unknown> = Promise.resolve()
  /** until the last answer that was told is seen: whoever works beside the page leaves it its processor so long */
  seen: Promise<unknown> = Promise.resolve()

  constructor(to: Listener) {
    this.to = to
  }

  progress(progress: RecommendProgress): void {
    const { answer } = progress
    if (!answer) this.sent = this.sent.then(() => void this.to.progress(progress))
    else this.seen = this.answer(answer).then((head) => this.to.progress({ ...progress, answer: head }))
  }

  /** @returns the answer without what was sent before it, once that has been read */
  answer(answer: Answer): Promise<Answer> {
    const head = this.sent.then(async () => {
      for (const piece of piecesOf(answer)) await this.to.piece(piece)
      return withRejected(answer, () => [])
    })
    this.sent = head
    return head
  }
}

/** Puts the pieces of one answer after the other together. */
export class PieceReader {
  private pieces: Piece[] = []

  piece(piece: Piece): void {
    this.pieces.push(piece)
  }

  /** @param head of the answer whose pieces were the last that came */
  answer(head: Answer): Answer {
    const pieces = this.pieces
    this.pieces = []
    return withRejected(head, (service) => pieces.flatMap((p) => (p.service === service ? p.rejected : [])))
  }

  /** What is heard of a search with every answer whole. @param drawn until the page shows what it was told */
  listener(onProgress: (progress: RecommendProgress) => void, drawn: () => Promise<void>): Listener {
    return {
      piece: (piece) => this.piece(piece),
      progress: ({ answer, ...progress }) => {
        onProgress(answer ? { ...progress, answer: this.answer(answer) } : progress)
        return answer && drawn()
      },
    }
  }
}
