<script setup lang="ts">
// The logbook: everything that was done, seen and measured, found by its words.
import { useInfiniteQuery } from '@tanstack/vue-query'
import { useDebounce } from '@vueuse/core'
import { computed, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'

import { api, ask } from '../../api/client'
import { useJob } from '../../shared/job'
import { shortTime } from '../../shared/words'

const job = useJob()
const route = useRoute()
const router = useRouter()
const KINDS = {
  change: 'changes', update: 'updates', seen: 'seen', light: 'light', learned: 'learned', tick: 'steps',
  reading: 'readings', photo: 'photographs', fault: 'faults', visit: 'visits', file: 'files',
} // prettier-ignore
const WAIT_MS = 200
const words = ref('')
const slow = useDebounce(words, WAIT_MS)
const kind = ref('')
const device = ref('')
const everywhere = ref(false)
const asText = (name: string) => (typeof route.query[name] === 'string' ? route.query[name] : '')
const since = computed(() => asText('since'))
const until = computed(() => asText('until'))
const box = computed(() => job.view?.devices.find((d) => d.uid === device.value))
const { data, error, hasNextPage, fetchNextPage, isFetching } = useInfiniteQuery({
  queryKey: computed(() => [
    'log',
    job.view?.uid,
    job.view?.mark,
    slow.value,
    kind.value,
    device.value,
    everywhere.value,
    since.value,
    until.value,
  ]),
  queryFn: ({ pageParam }) => {
    const query = {
      words: slow.value, kinds: kind.value, before: pageParam,
      since: since.value || undefined, until: until.value || undefined,
    } // prettier-ignore
    return everywhere.value && box.value
      ? ask(
          api.GET('/api/v1/log', {
            params: { query: { ...query, profile: box.value.profile, name: box.value.name } },
          }),
        )
      : ask(
          api.GET('/api/v1/jobs/{job_uid}/log', {
            params: { path: { job_uid: job.view?.uid ?? '' }, query: { ...query, device: device.value } },
          }),
        )
  },
  initialPageParam: undefined as number | undefined,
  getNextPageParam: (last) => last.more ?? undefined,
  enabled: computed(() => !!job.view),
})
const lines = computed(() => data.value?.pages.flatMap((p) => p.lines) ?? [])
const time = (iso: string) => shortTime(iso, job.view?.time_zone)
const to = (l: (typeof lines.value)[number]) => `/jobs/${l.job}/${l.sheet}`
const photo = (l: (typeof lines.value)[number]) => `/api/v1/jobs/${l.job}/photographs/${l.ref}`
const wholeTime = () => void router.replace({ query: { part: 'log' } })
</script>

<template>
  <p class="row tools">
    <label for="log-words">Find</label>
    <input
      id="log-words"
      v-model="words"
      type="search"
      maxlength="200"
      placeholder="words, as “format widest”"
    />
    <label for="log-kind">of</label>
    <select id="log-kind" v-model="kind">
      <option value="">everything</option>
      <option v-for="(name, id) in KINDS" :key="id" :value="id">{{ name }}</option>
    </select>
    <label for="log-box">at</label>
    <select id="log-box" v-model="device">
      <option value="">every box</option>
      <option v-for="d in job.view?.devices ?? []" :key="d.uid" :value="d.uid">{{ d.label }}</option>
    </select>
    <label v-if="device" class="tick"
      ><input v-model="everywhere" type="checkbox" /> boxes of this type in all jobs</label
    >
    <button v-if="since" class="slight" @click="wholeTime">Of one visit: show all</button>
  </p>
  <p v-if="error" class="attn" role="alert">{{ error.message }}</p>
  <p v-else-if="data && !lines.length" class="empty">
    <b>No line says that.</b> Every word must begin a word of the line; try fewer, or another kind.
  </p>
  <table v-else class="plain log" aria-label="Logbook">
    <tbody>
      <tr v-for="l in lines" :key="l.id">
        <td class="fig when">
          {{ time(l.at) }}<small v-if="l.by">{{ l.by }}</small>
        </td>
        <td class="kind">{{ KINDS[l.kind] }}</td>
        <td>
          <RouterLink :to="to(l)">{{ l.words }}</RouterLink>
          <a v-if="l.kind === 'photo'" :href="photo(l)" target="_blank" rel="noopener">Look at it</a>
          <small v-if="everywhere">{{ l.job_title }}</small>
        </td>
      </tr>
    </tbody>
  </table>
  <p v-if="hasNextPage"><button :disabled="isFetching" @click="fetchNextPage()">Older lines</button></p>
</template>

<style scoped>
.tools {
  margin-bottom: 6px;
}
.tools input[type='search'] {
  width: 230px;
}
.when {
  white-space: nowrap;
  width: 130px;
}
.kind {
  width: 100px;
  color: var(--ink-2);
}
td small {
  display: block;
  color: var(--ink-2);
}
td a {
  color: var(--ink);
  text-decoration: none;
  overflow-wrap: anywhere;
}
td a:hover {
  text-decoration: underline;
}
.tick {
  display: inline-flex;
  gap: 5px;
  align-items: center;
}
</style>
