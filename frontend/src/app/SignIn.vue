<script setup lang="ts">
import { onMounted, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'

import { api, ask, Problem } from '../api/client'
import { session } from '../shared/session'

const router = useRouter()
const route = useRoute()
const demo = ref(false)
const name = ref('')
const password = ref('')
const wrong = ref('')
const busy = ref(false)

onMounted(async () => {
  demo.value = (await ask(api.GET('/api/v1/session/door'))).demo
})

async function enter(call: () => Promise<typeof session.value>) {
  busy.value = true
  wrong.value = ''
  try {
    session.value = await call()
    await router.push(
      typeof route.query.to === 'string' && route.query.to.startsWith('/') ? route.query.to : '/',
    )
  } catch (problem) {
    if (!(problem instanceof Problem)) throw problem
    wrong.value = problem.detail
  } finally {
    busy.value = false
  }
}
const signIn = () =>
  enter(() =>
    ask(api.POST('/api/v1/session/sign-in', { body: { name: name.value, password: password.value } })),
  )
const enterDemo = () => enter(() => ask(api.POST('/api/v1/session/demo')))
</script>

<template>
  <main class="door">
    <section class="plate">
      <svg viewBox="0 0 120 40" aria-hidden="true">
        <path d="M0 12h38v16h26V12h56" fill="none" stroke="var(--signal)" stroke-width="5" />
      </svg>
      <h1>Wavilex</h1>
      <p>Plan, check and prove what reaches the screen.</p>
      <button v-if="demo" class="go big" :disabled="busy" @click="enterDemo">
        Enter as the demo technician
      </button>
      <form @submit.prevent="signIn">
        <label for="name">Name</label>
        <input id="name" v-model="name" autocomplete="username" required />
        <label for="password">Password</label>
        <input id="password" v-model="password" type="password" autocomplete="current-password" required />
        <p v-if="wrong" class="attn" role="alert">{{ wrong }}</p>
        <button :class="{ go: !demo }" type="submit" :disabled="busy">Sign in</button>
      </form>
    </section>
  </main>
</template>

<style scoped>
.door {
  min-height: 100vh;
  display: grid;
  place-items: center;
  padding: 20px;
}
section {
  width: min(380px, 100%);
  padding: 28px 28px 24px;
}
svg {
  width: 120px;
  margin-bottom: 8px;
}
h1 {
  font-size: 26px;
}
form {
  display: grid;
  gap: 4px;
}
form button,
.big {
  margin-top: 12px;
  min-height: 40px;
}
.big {
  width: 100%;
  margin: 4px 0 18px;
}
</style>
