<script setup lang="ts">
// Looking for an effect on a box nobody has profiled: where such settings hide, and what was found there.
import { useQuery } from '@tanstack/vue-query'
import Dialog from 'primevue/dialog'
import { computed, ref, watch } from 'vue'

import { api, ask, Problem, type Device, type Op } from '../../api/client'
import { tell } from '../../shared/announce'
import { useJob } from '../../shared/job'
import PickRow from '../../shared/PickRow.vue'

const props = defineProps<{ device: Device }>()
const visible = defineModel<boolean>('visible', { required: true })
const job = useJob()
const sought = ref('')
const label = ref('')
const where = ref('')
const fault = ref('')
const { data } = useQuery({
  queryKey: ['finder', props.device.role],
  queryFn: () => ask(api.GET('/api/v1/gear/finder', { params: { query: { role: props.device.role } } })),
  staleTime: Infinity,
})
const chosen = computed(() => data.value?.find((s) => s.id === sought.value))
const steps = ref<string[]>([])
const stands = ref('')
watch(sought, () => {
  steps.value = [...(chosen.value?.steps ?? [])]
  stands.value = chosen.value?.stands ?? ''
  label.value = chosen.value?.title ?? ''
  where.value = ''
  fault.value = ''
})

function setSteps(next: string[]) {
  steps.value = next
  if (!next.includes(stands.value)) stands.value = next[0] ?? ''
}
const typed = (event: Event) =>
  setSteps(
    (event.target as HTMLInputElement).value
      .split(',')
      .map((s) => s.trim())
      .filter(Boolean),
  )
function toggle(name: string) {
  const known = (chosen.value?.known_steps ?? []).map((s) => s.name)
  setSteps(known.filter((s) => (s === name ? !steps.value.includes(s) : steps.value.includes(s))))
}

async function answer(kind: 'found' | 'inert' | 'absent') {
  if (kind === 'absent') {
    tell(chosen.value?.if_absent ?? '')
    return
  }
  const path = { job_uid: job.view?.uid ?? '', device_uid: props.device.uid }
  try {
    const now = await ask(
      api.GET('/api/v1/jobs/{job_uid}/devices/{device_uid}/profile', { params: { path } }),
    )
    const body = {
      data: now.data,
      sought: sought.value,
      answer: kind,
      label: label.value,
      where: where.value,
      steps: steps.value,
      stands: stands.value,
    }
    const learned = await ask(api.POST('/api/v1/gear/finder', { body }))
    const op: Op = { op: 'set_profile', device: props.device.uid, profile: learned.data }
    if (await job.change([op], `${props.device.label}: ${label.value} ${kind}`)) {
      tell(`${label.value} noted on ${props.device.label}.`, { undo: true })
      sought.value = ''
    }
  } catch (problem) {
    if (!(problem instanceof Problem)) throw problem
    fault.value = problem.detail
  }
}
</script>

<template>
  <Dialog
    v-model:visible="visible"
    modal
    dismissable-mask
    :header="`Find a setting on ${device.label}`"
    :style="{ width: '640px', maxWidth: '96vw' }"
  >
    <p>Look for the effect: every menu calls it something else and hides it elsewhere.</p>
    <PickRow
      kind="ways"
      label="Effect"
      :list="(data ?? []).map((s) => ({ id: s.id, name: s.title }))"
      :on="[sought]"
      @pick="sought = $event"
    />
    <template v-if="chosen">
      <h2>Where to look, likeliest first</h2>
      <ol>
        <li v-for="h in chosen.hideouts" :key="h.place">
          {{ h.place }}: <span class="quiet">words like {{ h.words }}</span>
        </li>
      </ol>
      <p><b>Found, you see:</b> {{ chosen.see }}.</p>
      <p class="quiet"><b>If not:</b> {{ chosen.if_absent }}</p>
      <div class="fields">
        <span>
          <label for="find-label">Name it, in our words</label>
          <input id="find-label" v-model="label" maxlength="60" />
        </span>
        <span>
          <label for="find-where">Where it was</label>
          <input id="find-where" v-model="where" maxlength="160" />
        </span>
      </div>
      <template v-if="chosen.known_steps.length">
        <p class="quiet small">Its steps, as its menu has them</p>
        <PickRow
          kind="ways"
          label="Its steps"
          :list="chosen.known_steps.map((s) => ({ id: s.name, name: s.name }))"
          :on="steps"
          @pick="toggle"
        />
      </template>
      <div class="fields">
        <span v-if="!chosen.known_steps.length">
          <label for="find-steps">Its steps, commas between</label>
          <input id="find-steps" :value="steps.join(', ')" maxlength="400" @change="typed" />
        </span>
        <span>
          <label for="find-stands">It left the factory at (a guess until you know)</label>
          <select id="find-stands" v-model="stands">
            <option v-for="s in steps" :key="s" :value="s">{{ s }}</option>
          </select>
        </span>
      </div>
      <p v-if="fault" class="attn" role="alert">{{ fault }}</p>
      <p class="row">
        <button class="go" @click="answer('found')">Found</button>
        <button @click="answer('inert')">There, but does nothing</button>
        <button @click="answer('absent')">Not there</button>
      </p>
    </template>
  </Dialog>
</template>

<style scoped>
.row {
  margin: 8px 0;
}
ol {
  padding-left: 20px;
  margin: 4px 0 8px;
}
.fields {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 8px;
  margin-top: 8px;
}
.fields span {
  display: grid;
}
</style>
