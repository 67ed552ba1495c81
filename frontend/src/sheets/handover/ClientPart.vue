<script setup lang="ts">
// The one page the client keeps: what plays where, which button, what not to touch, what to do when it goes black.
import type { ClientPage } from '../../api/client'

defineProps<{ page: ClientPage; title: string; day: string }>()
</script>

<template>
  <article class="client" aria-label="The client’s page">
    <header>
      <h1>{{ title }}</h1>
      <p>How it is used, {{ day }}</p>
    </header>
    <section>
      <h2>What plays where</h2>
      <table class="plain">
        <thead>
          <tr>
            <th>To play on</th>
            <th>call up</th>
            <th>picture and sound</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="r in page.plays" :key="r.what + r.on">
            <td>
              <b>{{ r.what }}</b><small v-if="r.room"><br />{{ r.room }}</small>
            </td>
            <td>
              <template v-for="(p, n) in r.press" :key="p"><br v-if="n" />{{ p }}</template>
            </td>
            <td>
              {{ r.picture }}<small><br />{{ r.sound }}</small>
            </td>
          </tr>
        </tbody>
      </table>
      <p v-for="x in page.not_yet" :key="x" class="small">{{ x }}</p>
    </section>
    <section v-if="page.leave.length || page.yours.length">
      <h2>What not to touch</h2>
      <ul>
        <li v-for="x in [...page.leave, ...page.yours]" :key="x">{{ x }}</li>
      </ul>
    </section>
    <p>{{ page.updates }}</p>
    <section>
      <h2>When it goes black</h2>
      <ol>
        <li v-for="x in page.black" :key="x">{{ x }}</li>
      </ol>
    </section>
    <section>
      <h2>Take care</h2>
      <ul>
        <li v-for="x in page.cautions" :key="x">{{ x }}</li>
      </ul>
    </section>
  </article>
</template>

<style scoped>
.client {
  background: var(--plate);
  border: 1px solid var(--rule-strong);
  padding: 22px 28px;
  max-width: 980px;
  margin-bottom: 18px;
  font-size: 16px;
}
header {
  border-bottom: 2px solid var(--ink);
  margin-bottom: 12px;
}
h1 {
  font-size: 24px;
}
h2 {
  font-size: 17px;
  color: var(--ink);
  margin: 10px 0 4px;
}
ul,
ol {
  padding-left: 20px;
}
li {
  margin: 3px 0;
}
td small {
  color: var(--ink-2);
}
@media print {
  .client {
    border: 0;
    padding: 0;
    max-width: none;
    background: #fff;
    color: #000;
    break-after: page;
    font-size: 11pt;
  }
}
</style>
