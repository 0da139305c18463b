<script setup lang="ts">
import { computed } from 'vue'
import SmallLayers from './SmallLayers.vue'
import type { RosterOnDesk } from '@/api/types'
import { count, moment } from '@/logic/words'

const props = defineProps<{ roster: RosterOnDesk }>()
/**
 * What was taken back, and its undoing, are no file any more; they stay in the roster's history.
 */
const past = computed(() => props.roster.history.filter((one) => one.tally))
const largest = computed(() => Math.max(1, ...past.value.map((one) => one.tally!.read)))
const last = computed(() => props.roster.history.at(-1))
</script>

<template>
  <article>
    <div class="name">
      <h3>
        <RouterLink :to="`/rosters/${roster.name}`">{{ roster.title }}</RouterLink>
      </h3>
      <p v-if="roster.within" class="soft">only where {{ roster.within }}</p>
      <p class="soft">{{ count(roster.records) }} today</p>
      <p v-if="last" class="soft">last altered {{ moment(last.at, new Date()) }}</p>
    </div>
    <div v-if="past.length" class="past">
      <RouterLink
        v-for="change in past"
        :key="change.change_set"
        :to="`/receipts/${change.change_set}`"
        ><SmallLayers :change="change" :largest="largest" /><span class="soft">{{
          moment(change.at, new Date())
        }}</span></RouterLink
      >
    </div>
    <p v-else class="soft">{{ roster.within ? 'No file of this part yet.' : 'No file yet.' }}</p>
  </article>
</template>

<style scoped>
article {
  display: grid;
  grid-template-columns: 150px 1fr;
  padding: 10px 0 8px;
  border-bottom: 1px solid var(--line);
  min-height: 142px;
  align-items: start;
}
h3 {
  font-size: 15px;
}
h3 a {
  color: var(--ink);
  text-decoration: none;
}
h3 a:hover {
  text-decoration: underline;
}
.name p {
  font-size: 13px;
  line-height: 19px;
}
.past {
  display: flex;
  gap: 12px;
  align-items: flex-end;
  flex-wrap: wrap;
}
.past a {
  text-decoration: none;
  font-size: 11.5px;
  line-height: 14px;
  text-align: center;
  display: flex;
  flex-direction: column;
  align-items: center;
}
</style>
