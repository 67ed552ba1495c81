<script setup lang="ts">
// A gear profile for people who do not write YAML: sockets, figures, settings, quirks; checked as you go.
import Dialog from 'primevue/dialog'
import { computed, ref, watch } from 'vue'

import { api, ask, Problem, type Profile } from '../../../api/client'
import { tell } from '../../../shared/announce'
import { sentence } from '../../../shared/words'
import BoxFields from './BoxFields.vue'
import ConvertFields from './ConvertFields.vue'
import { EMPTY, idOf, useCheck, useWords, type Draft } from './draft'
import PortRow from './PortRow.vue'
import QuirkList from './QuirkList.vue'
import SettingList from './SettingList.vue'
import VideoFields from './VideoFields.vue'

const props = defineProps<{ start: Record<string, unknown> | null; box: string; verb?: string }>()
const emit = defineEmits<{ keep: [profile: Profile]; add: [profile: Profile] }>()
const visible = defineModel<boolean>('visible', { required: true })
const draft = ref<Draft>(structuredClone(EMPTY))
const begun = ref('') // the draft as it was opened
const asking = ref(false)
// What was written is not thrown away by a slip: closing asks.
const shown = computed({
  get: () => visible.value,
  set: (on) => {
    if (on || JSON.stringify(draft.value) === begun.value) visible.value = on
    else asking.value = true
  },
})
const words = useWords()
const { fault, profile, latest } = useCheck(draft)
watch(
  () => props.start,
  (data) => {
    begun.value = JSON.stringify(data ?? EMPTY)
    draft.value = JSON.parse(begun.value) as Draft
  },
  { immediate: true },
)
const count = (n: number, one: string) => `${n} ${one}${n === 1 ? '' : 's'}`
const value = (event: Event) => (event.target as HTMLInputElement | HTMLSelectElement).value
function head(key: 'maker' | 'model' | 'summary' | 'panel', text: string) {
  if (text === '' && (key === 'summary' || key === 'panel')) Reflect.deleteProperty(draft.value, key)
  else draft.value[key] = text
  if (!props.box && (key === 'maker' || key === 'model'))
    draft.value.id = idOf(`${draft.value.maker} ${draft.value.model}`)
}
function setVideo(field: string, part: unknown) {
  const video = { ...(draft.value.video ?? {}) }
  if (part === undefined) Reflect.deleteProperty(video, field)
  else video[field] = part
  draft.value.video = video
}
async function finish() {
  const read = await latest()
  if (!read) return
  if (props.box) emit('keep', read)
  else emit('add', read)
}
async function another() {
  draft.value.model = `${draft.value.model} copy`.slice(0, 40)
  draft.value.id = idOf(`${draft.value.maker} ${draft.value.model}`)
  const read = await latest()
  if (read) emit('add', read)
}
async function file() {
  try {
    const { text } = await ask(api.POST('/api/v1/gear/yaml', { body: { data: draft.value } }))
    const link = document.createElement('a')
    link.href = URL.createObjectURL(new Blob([text], { type: 'application/yaml' }))
    link.download = `${draft.value.id}.yaml`
    link.click()
    URL.revokeObjectURL(link.href)
  } catch (problem) {
    if (!(problem instanceof Problem)) throw problem
    tell(problem.detail, { bad: true })
  }
}
</script>

<template>
  <Dialog
    v-model:visible="shown"
    modal
    :header="box ? `What ${box} is` : 'A box of your own'"
    :style="{ width: '940px', maxWidth: '97vw' }"
  >
    <template v-if="words">
      <div class="head">
        <span>
          <label for="p-maker">Maker</label>
          <input id="p-maker" :value="draft.maker" maxlength="40" @change="head('maker', value($event))" />
        </span>
        <span>
          <label for="p-model">Model</label>
          <input id="p-model" :value="draft.model" maxlength="40" @change="head('model', value($event))" />
        </span>
        <span>
          <label for="p-role">It</label>
          <select id="p-role" :value="draft.role" @change="draft.role = value($event)">
            <option v-for="r in words.roles" :key="r.id" :value="r.id">{{ r.name }}</option>
          </select>
        </span>
        <span>
          <label for="p-kind">Kind</label>
          <select id="p-kind" :value="draft.kind" @change="draft.kind = value($event)">
            <option v-for="k in words.kinds" :key="k.id" :value="k.id">{{ k.name }}</option>
          </select>
        </span>
        <span v-if="draft.role === 'screen'">
          <label for="p-panel">Panel</label>
          <input
            id="p-panel"
            :value="draft.panel ?? ''"
            placeholder="3840x2160"
            @change="head('panel', value($event))"
          />
        </span>
        <span class="wide">
          <label for="p-summary">In a line</label>
          <input
            id="p-summary"
            :value="draft.summary ?? ''"
            maxlength="120"
            @change="head('summary', value($event))"
          />
        </span>
      </div>
      <PortRow v-model:draft="draft" :words="words" />
      <section aria-label="The box’s figures">
        <h2>All its sockets, unless one says otherwise</h2>
        <VideoFields id="box" :video="draft.video ?? {}" :words="words" empty="not known" @set="setVideo" />
      </section>
      <BoxFields v-model:draft="draft" :words="words" />
      <ConvertFields v-model:draft="draft" :words="words" />
      <SettingList v-model:draft="draft" :words="words" />
      <QuirkList v-model:draft="draft" :words="words" />
    </template>
    <template v-if="asking" #footer>
      <p class="check attn" role="alert">What you wrote is not kept yet.</p>
      <button @click="visible = false">Throw it away</button>
      <button class="go" @click="asking = false">Go on writing</button>
    </template>
    <template v-else #footer>
      <p class="check" role="status" :class="{ attn: fault }">
        <template v-if="fault">{{ sentence(fault.detail) }}</template>
        <template v-else-if="profile"
          >Complete: {{ count(profile.inputs, 'picture input') }},
          {{ count(profile.outputs, 'output') }}.</template
        >
      </p>
      <button :disabled="!profile" @click="file">Keep as a file</button>
      <button v-if="box && !verb" :disabled="!profile" @click="another">Add as another box</button>
      <button class="go" :disabled="!profile" @click="finish">
        {{ verb ?? (box ? 'Keep' : 'Add') }}
      </button>
    </template>
  </Dialog>
</template>

<style scoped>
.head {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(150px, 1fr));
  gap: 6px 10px;
  margin-bottom: 12px;
}
.head span {
  display: grid;
  min-width: 0;
}
.head input,
.head select {
  width: 100%;
  min-width: 0;
}
.wide {
  grid-column: span 2;
}
section {
  margin-bottom: 14px;
}
.check {
  margin-right: auto;
  text-align: left;
  max-width: 520px;
}
</style>
