<script setup lang="ts">
// A box for the job, four ways: from the shelf, by its class, from an EDID, written by hand. What was added stands
// below with its undo; what was begun is kept while the dialog is closed.
import Dialog from 'primevue/dialog'
import { computed, ref, watch } from 'vue'

import type { Device, Op, Profile, ShelfEntry } from '../../../api/client'
import { useJob } from '../../../shared/job'
import PickRow from '../../../shared/PickRow.vue'
import ClassPick from './ClassPick.vue'
import { begun, clearBegun, type Way } from './draft'
import EdidPick from './EdidPick.vue'
import HandPick from './HandPick.vue'
import SetupPick from './SetupPick.vue'
import ShelfPick from './ShelfPick.vue'

const props = defineProps<{
  rooms: string[]
  replaces?: Device | null
  added: string // the label of what was added last
  add: (profile: Profile | ShelfEntry, room: string) => Promise<boolean>
  addAll: (ops: Op[], title: string) => Promise<boolean>
}>()
const emit = defineEmits<{ own: [room: string]; undone: [] }>()
const visible = defineModel<boolean>('visible', { required: true })
const job = useJob()
const WAYS: { id: Way; name: string }[] = [
  { id: 'shelf', name: 'From the shelf' },
  { id: 'class', name: 'By its class' },
  { id: 'edid', name: 'A screen, from its EDID' },
  { id: 'hand', name: 'Written by hand' },
  { id: 'setup', name: 'A whole set-up' },
]
const ways = computed(() => (props.replaces ? WAYS.filter((w) => w.id !== 'setup') : WAYS))
const GUARD_MS = 700
const busy = ref(false) // a box is on its way
const guarded = ref(false) // the same button was just pressed
const again = ref('') // what was added last, so that a second press is meant
watch(visible, (on) => on || (again.value = ''))
const header = computed(() =>
  props.replaces ? `Another box in the place of ${props.replaces.label}` : 'Add a box',
)

// One press, one box: presses while it is being added, or right after, count for nothing.
async function take(profile: Profile | ShelfEntry) {
  if (busy.value) return
  busy.value = guarded.value = true
  window.setTimeout(() => (guarded.value = false), GUARD_MS)
  try {
    if (!(await props.add(profile, begun.room))) return
    again.value = profile.name
    clearBegun()
  } finally {
    busy.value = false
  }
}
async function takeAll(ops: Op[], title: string) {
  if (busy.value) return
  busy.value = true
  try {
    if (await props.addAll(ops, title)) visible.value = false
  } finally {
    busy.value = false
  }
}
async function undo() {
  await job.step('undo')
  again.value = ''
  emit('undone')
}
</script>

<template>
  <Dialog
    v-model:visible="visible"
    modal
    dismissable-mask
    :header="header"
    :style="{ width: '880px', maxWidth: '97vw' }"
  >
    <div class="row head">
      <PickRow kind="ways" label="How to add it" :list="ways" :on="[begun.way]" @pick="begun.way = $event" />
      <span v-if="!replaces" class="room">
        <label for="library-room">Room</label>
        <input id="library-room" v-model="begun.room" list="rooms" maxlength="60" />
      </span>
      <datalist id="rooms"><option v-for="r in rooms" :key="r" :value="r" /></datalist>
    </div>
    <div class="pane">
      <ShelfPick
        v-if="begun.way === 'shelf'"
        :role="replaces?.role ?? ''"
        :word="replaces ? 'Take it' : 'Add'"
        :again="again"
        :busy="busy || guarded"
        @pick="take"
      />
      <ClassPick v-else-if="begun.way === 'class'" :role="replaces?.role ?? ''" :busy="busy" @pick="take" />
      <EdidPick v-else-if="begun.way === 'edid'" :busy="busy" @pick="take" />
      <SetupPick v-else-if="begun.way === 'setup'" :busy="busy" @made="takeAll" />
      <HandPick v-else :busy="busy" @pick="take" @own="emit('own', begun.room)" />
    </div>
    <p v-if="added && again" class="row added" role="status">
      <span
        ><b>{{ added }}</b> is in the job.</span
      >
      <button class="slight" @click="undo">Undo</button>
      <button class="slight" @click="visible = false">Done</button>
    </p>
  </Dialog>
</template>

<style scoped>
.head {
  justify-content: space-between;
  margin-bottom: 8px;
}
.room {
  display: inline-flex;
  gap: 6px;
  align-items: center;
}
.room input {
  width: 130px;
}
.pane {
  height: min(460px, 60vh);
  overflow-y: auto;
  border-top: 1px solid var(--rule);
  padding-top: 8px;
}
.added {
  margin-top: 8px;
  border-left: 3px solid var(--fits, var(--signal));
  padding-left: 8px;
}
</style>
