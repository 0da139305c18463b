<script setup lang="ts">
import type { Practice } from '@/api/types'
import { count, counted, momentInFull } from '@/logic/words'

/** The practice copy that is there: where, what it has, and what could not be made so. */
defineProps<{ practice: Practice }>()
</script>

<template>
  <p class="where">
    <a
      v-if="practice.answers"
      class="btn main"
      :href="practice.address"
      target="_blank"
      rel="noopener"
      >Open it in a new tab</a
    >
    <span v-else class="soft" role="status">It answers in a few seconds …</span>
    <span class="soft">
      {{ practice.address }}, made {{ momentInFull(practice.made_at ?? '')
      }}<template v-if="practice.by"> for {{ practice.by }}</template>
    </span>
  </p>
  <table v-if="practice.rosters.length" class="list">
    <thead>
      <tr>
        <th>Roster</th>
        <th class="n">Made-up people</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="one in practice.rosters" :key="one.title">
        <td>{{ one.title }}</td>
        <td class="n">{{ count(one.records) }}</td>
      </tr>
    </tbody>
  </table>
  <p v-else class="soft">There was no roster when it was made.</p>
  <p v-if="practice.rosters.length && !practice.differs.length" class="soft">
    Every check finds in them what it finds in the real ones.
  </p>
  <template v-else-if="practice.differs.length">
    <p class="flag">
      <b>Some checks find something else in them than in the real ones.</b> What depends on several
      values at once could not be kept everywhere.
    </p>
    <ul>
      <li v-for="one in practice.differs" :key="`${one.roster}${one.check}${one.field}`">
        {{ one.roster }}: {{ counted(one.records, 'record') }}, check “{{ one.check }}”<template
          v-if="one.field"
        >
          of {{ one.field }}</template
        >
      </li>
    </ul>
  </template>
  <template v-if="practice.given_on.length">
    <p class="flag">
      <b>Some numbers are so short that all there can be are taken.</b> Made-up people have real
      ones of somebody else there.
    </p>
    <ul>
      <li v-for="one in practice.given_on" :key="`${one.roster}${one.field}`">
        {{ one.roster }}, {{ one.field }}: {{ count(one.values) }}
      </li>
    </ul>
  </template>
</template>

<style scoped src="../../pages/setup/page.css"></style>
<style scoped>
p {
  margin: 10px 0;
  max-width: 760px;
}
.where {
  display: flex;
  align-items: center;
  gap: 12px;
}
table {
  max-width: 420px;
}
ul {
  margin: 0 0 10px 20px;
}
</style>
