// Who is signed in.
import { ref } from 'vue'

import { api, ask, Problem, type Session } from '../api/client'

export const session = ref<Session | null>(null)
export const mayEdit = () => session.value?.role === 'technician'

// The signed-in user, or null. Throws when the server is not reached.
export async function whoAmI(): Promise<Session | null> {
  if (session.value) return session.value
  try {
    session.value = await ask(api.GET('/api/v1/session'))
  } catch (problem) {
    if (!(problem instanceof Problem) || problem.status !== 401) throw problem
    session.value = null
  }
  return session.value
}

export async function signOut() {
  await ask(api.POST('/api/v1/session/sign-out'))
  session.value = null
}
