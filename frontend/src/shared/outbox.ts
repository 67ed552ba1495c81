// What people say away from the server: kept in this browser, sent one after another, each once, until the server has it.
import { useLocalStorage } from '@vueuse/core'
import { onBeforeUnmount, onMounted, ref } from 'vue'

import { Problem } from '../api/client'
import { tell } from './announce'
import { useJob } from './job'

const RETRY_MS = 3000
const AWAY = [0, 502, 503, 504]

// send: gives it to the server and shows its answer. The job is read again once the item has left the outbox.
export function useOutbox<T extends { uid: string }>(key: string, send: (item: T) => Promise<void>) {
  const job = useJob()
  const outbox = useLocalStorage<T[]>(key, [])
  const away = ref(false)
  let sending = false
  let timer = 0

  async function flush() {
    if (sending) return
    sending = true
    window.clearTimeout(timer)
    try {
      while (outbox.value[0]) {
        const item = outbox.value[0] as T
        try {
          await job.inTurn(async () => {
            await send(item)
            away.value = false
            // what is shown holds it by now, or it would jump back until the next read
            outbox.value = outbox.value.filter((w) => w.uid !== item.uid)
            await job.reread().catch(() => undefined)
          })
        } catch (problem) {
          if (!(problem instanceof Problem)) throw problem
          if (AWAY.includes(problem.status)) {
            away.value = true
            timer = window.setTimeout(() => void flush(), RETRY_MS)
            return
          }
          outbox.value = outbox.value.filter((w) => w.uid !== item.uid)
          tell(problem.detail, { bad: true })
        }
      }
    } finally {
      sending = false
    }
  }

  function put(item: T) {
    outbox.value = [...outbox.value, item]
    void flush()
  }

  onMounted(() => {
    window.addEventListener('online', flush)
    void flush()
  })
  onBeforeUnmount(() => {
    window.removeEventListener('online', flush)
    window.clearTimeout(timer)
  })
  return { outbox, away, put }
}
