<script setup lang="ts">
import { computed, onBeforeUnmount, onMounted, ref, shallowRef, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'

import { Problem } from '../api/client'
import { useJob } from '../shared/job'
import ClashDialog from './ClashDialog.vue'
import OthersDialog from './OthersDialog.vue'
import RepairView from './RepairView.vue'
import { useKeys } from '../shared/keys'
import KeysHelp from './KeysHelp.vue'
import RailNav from './RailNav.vue'
import { SHEETS, type SheetInfo } from './sheets'
import RunsBar from './RunsBar.vue'
import { whoAmI } from '../shared/session'
import TapeStrip from './TapeStrip.vue'
import { toggleTheme } from '../shared/theme'
import WhyRun from './WhyRun.vue'

const route = useRoute()
const router = useRouter()
const job = useJob()
const missing = ref('')
const broken = shallowRef<Problem | null>(null)
const help = ref(false)
const whyOpen = ref(false)
const sheet = computed(() => (route.meta.sheet ?? SHEETS[0]) as SheetInfo)
const POLL_MS = 4000
let timer = 0

async function load(uid: string) {
  missing.value = ''
  broken.value = null
  try {
    if (!(await whoAmI())) {
      await router.replace({ path: '/enter', query: { to: route.fullPath } })
      return
    }
    await job.open(uid)
  } catch (problem) {
    if (!(problem instanceof Problem)) throw problem
    if (problem.code === 'cannot_work_out') broken.value = problem
    else missing.value = problem.detail
  }
}
watch(
  () => route.params.job,
  (uid) => typeof uid === 'string' && load(uid),
  { immediate: true },
)
watch(
  () => [job.view?.title, sheet.value.name],
  () => (document.title = `${sheet.value.name} · ${job.view?.title ?? ''} · Wavilex`),
)
watch(sheet, () => (whyOpen.value = false))

// Another tab or person may edit the same job: look now and then, while the page is seen.
function look() {
  if (document.visibilityState === 'visible') job.refresh().catch(() => undefined)
}
onMounted(() => {
  timer = window.setInterval(look, POLL_MS)
  window.addEventListener('focus', look)
})
onBeforeUnmount(() => {
  window.clearInterval(timer)
  window.removeEventListener('focus', look)
})

useKeys([
  ...SHEETS.map((s) => ({
    key: s.key,
    does: `${s.name} sheet`,
    run: () => void router.push(`/jobs/${String(route.params.job)}/${s.id}`),
  })),
  { key: 'U', does: 'Undo (also Ctrl+Z)', run: () => void job.step('undo') },
  { key: 'Shift+U', does: 'Do again (also Ctrl+Shift+Z)', run: () => void job.step('redo') },
  { key: 'Y', does: 'Why: open or close the reasons', run: () => (whyOpen.value = !whyOpen.value) },
  { key: 'D', does: 'Dark or light', run: toggleTheme },
  { key: '?', does: 'This list', run: () => (help.value = true) },
  { key: 'Escape', does: 'End trying', run: () => job.stopTry() },
])
</script>

<template>
  <main v-if="missing" class="lost">
    <h1>{{ missing }}</h1>
    <p><RouterLink to="/">All jobs</RouterLink></p>
  </main>
  <RepairView
    v-else-if="broken"
    :uid="String(route.params.job)"
    :problem="broken"
    @mended="load(String(route.params.job))"
  />
  <div
    v-else-if="job.view"
    class="shell"
    :class="[`tape-${job.run ? sheet.tape : 'none'}`, { 'no-why': sheet.why === 'none', trying: job.ghost }]"
  >
    <header>
      <RouterLink to="/" class="mark" title="All jobs">Wavilex</RouterLink>
      <span class="job">{{ job.shown?.title }}</span>
      <RunsBar v-if="sheet.id !== 'handover'" />
      <button
        v-if="sheet.why !== 'none'"
        class="why-button"
        :aria-expanded="whyOpen"
        @click="whyOpen = !whyOpen"
      >
        Why <kbd>Y</kbd>
      </button>
      <div class="steps">
        <button
          :disabled="!job.view.can_undo"
          :title="job.view.can_undo ? `Undo: ${job.view.can_undo}` : 'Nothing to undo'"
          @click="job.step('undo')"
        >
          Undo <kbd>U</kbd>
        </button>
        <button aria-label="Keys and display" @click="help = true"><kbd>?</kbd></button>
      </div>
    </header>
    <RailNav :current="sheet.id" />
    <main>
      <p v-if="job.unreached" class="bar bad" role="alert">
        {{ job.unreached }} Your last change is kept here and sent again every second.
      </p>
      <p v-if="job.ghost" class="bar" role="status">
        <b>Trying:</b> {{ job.ghostLabel }}. Nothing is changed yet.
        <button @click="job.change(job.ghostOps, job.ghostLabel)">Apply</button>
        <button @click="job.stopTry()">End trying <kbd>Esc</kbd></button>
      </p>
      <RouterView />
    </main>
    <aside v-show="sheet.why !== 'none'" :class="{ open: whyOpen }" aria-label="Why">
      <button class="shut" aria-label="Close the reasons" @click="whyOpen = false">✕</button>
      <WhyRun v-if="sheet.why === 'run'" />
      <div id="why-own"></div>
    </aside>
    <TapeStrip v-if="sheet.tape !== 'none' && job.run" :thin="sheet.tape === 'line'" />
    <KeysHelp v-model:visible="help" />
    <ClashDialog />
    <OthersDialog />
  </div>
  <p v-else class="lost quiet" role="status">Reading the job…</p>
</template>

<style scoped>
.shell {
  height: 100vh;
  display: grid;
  grid-template: 44px minmax(0, 1fr) 118px / 172px minmax(0, 1fr) 316px;
  grid-template-areas: 'top top top' 'rail main why' 'tape tape tape';
}
.shell.tape-line {
  grid-template-rows: 44px minmax(0, 1fr) 42px;
}
.shell.tape-none {
  grid-template-rows: 44px minmax(0, 1fr) 0;
}
.shell.no-why {
  grid-template-areas: 'top top top' 'rail main main' 'tape tape tape';
}
header {
  grid-area: top;
  display: flex;
  align-items: center;
  gap: 14px;
  padding: 0 12px 0 16px;
  border-bottom: 1px solid var(--rule-strong);
  background: var(--plate);
  min-width: 0;
}
.mark {
  font-weight: 750;
  letter-spacing: 0.02em;
  color: var(--ink);
  text-decoration: none;
}
.job {
  font-weight: 600;
  white-space: nowrap;
  overflow: hidden;
  text-overflow: ellipsis;
  min-width: 60px;
  margin-right: auto;
}
.steps {
  display: flex;
  gap: 6px;
}
.why-button,
.shut {
  display: none;
}
main {
  grid-area: main;
  padding: 14px 18px;
  overflow: auto;
  position: relative;
}
aside {
  grid-area: why;
  border-left: 1px solid var(--rule);
  background: var(--plate);
  padding: 14px 16px;
  overflow-y: auto;
}
.bar {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 10px;
  align-items: center;
  border: 1px dashed var(--signal);
  background: var(--signal-soft);
  border-radius: var(--r);
  padding: 4px 10px;
  margin-bottom: 10px;
}
.bar button {
  min-height: 28px;
  padding: 2px 8px;
}
.bar.bad {
  border: 1px solid var(--blocked);
  background: var(--blocked-soft);
}
.lost {
  padding: 40px;
}
@media (max-width: 1080px) {
  .shell {
    grid-template-columns: 52px minmax(0, 1fr);
    grid-template-areas: 'top top' 'rail main' 'tape tape';
  }
  .shell.no-why {
    grid-template-areas: 'top top' 'rail main' 'tape tape';
  }
  .why-button,
  .shut {
    display: block;
  }
  .shut {
    position: absolute;
    right: 8px;
    top: 8px;
    border-color: transparent;
    background: none;
  }
  aside {
    position: fixed;
    right: 0;
    top: 44px;
    bottom: 0;
    width: min(340px, 92vw);
    border-left: 1px solid var(--rule-strong);
    box-shadow: -6px 0 18px #0003;
    transform: translateX(105%);
    visibility: hidden;
    transition: transform 0.15s;
    z-index: 40;
  }
  aside.open {
    transform: none;
    visibility: visible;
  }
}
@media (max-width: 900px) {
  .why-button kbd,
  .steps button:first-child kbd {
    display: none;
  }
  header {
    gap: 8px;
  }
}
@media (max-width: 640px) {
  .job {
    display: none;
  }
}
@media (max-width: 600px) {
  /* on a phone: the sheets are a bar under the thumb, the tape a list above it */
  .shell,
  .shell.no-why,
  .shell.tape-line,
  .shell.tape-none {
    height: 100dvh;
    grid-template: 48px minmax(0, 1fr) auto 50px / minmax(0, 1fr);
    grid-template-areas: 'top' 'main' 'tape' 'rail';
  }
  header {
    padding: 0 8px;
  }
  .mark {
    flex: none;
    font-size: 0;
    padding: 0 6px;
  }
  .mark::before {
    content: '‹';
    font-size: 26px;
    line-height: 40px;
  }
  .why-button,
  .steps button {
    padding: 5px 9px;
  }
  main {
    padding: 10px 12px;
  }
  .steps {
    margin-left: auto;
  }
}
@media print {
  .shell {
    display: block;
    height: auto;
  }
  header,
  aside {
    display: none;
  }
  main {
    overflow: visible;
    padding: 0;
  }
}
</style>
