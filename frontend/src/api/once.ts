// Requests that may be sent again and are done once: the same words keep their uid until the server has answered.
import { newUid, Problem } from './client'

const unanswered = new Map<string, string>()

export async function sendOnce<T>(words: string, send: (uid: string) => Promise<T>): Promise<T> {
  const uid = unanswered.get(words) ?? newUid()
  unanswered.set(words, uid)
  let open = false
  try {
    return await send(uid)
  } catch (problem) {
    open = problem instanceof Problem && (problem.status === 0 || problem.status === 503)
    throw problem
  } finally {
    if (!open) unanswered.delete(words)
  }
}
