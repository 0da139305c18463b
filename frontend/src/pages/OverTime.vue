<script setup lang="ts">
import { computed, onMounted, ref, shallowRef } from 'vue'
import { useRoute } from 'vue-router'
import TimeBars from '@/components/TimeBars.vue'
import NotHere from '@/components/NotHere.vue'
import { listChangeSets } from '@/api/rosters'
import type { ChangeSet } from '@/api/types'
import { useCatalog } from '@/composables/useCatalog'
import { usePageTitle } from '@/composables/usePageTitle'
import { clockTime } from '@/logic/clock'
import { overTime } from '@/logic/overtime'
import { count, counted, momentInFull } from '@/logic/words'

/** A roster over time: who joined and left with each file, and how many it had then. */
const catalog = useCatalog()
const name = String(useRoute().params.name)
const roster = computed(() => catalog.roster(name))
const sets = shallowRef<ChangeSet[] | null>(null)
const problem = ref('')
const pointed = ref(0)
const moments = computed(() =>
  sets.value && roster.value ? overTime(sets.value, roster.value.records) : [],
)
const dayOf = (at: string) => clockTime(new Date(at)).day
onMounted(async () => {
  try {
    await catalog.load()
    sets.value = await listChangeSets(name)
  } catch (error) {
    problem.value = error instanceof Error ? error.message : String(error)
  }
})
usePageTitle(() => roster.value && `${roster.value.title} over time`)
</script>

<template>
  <NotHere
    v-if="problem"
    title="This roster cannot be opened"
    :problem="problem"
    to="/rosters"
    back="All rosters"
  />
  <section v-else class="page">
    <div class="head">
      <h1>{{ roster?.title ?? name }} over time</h1>
      <span v-if="roster" class="soft">{{ counted(roster.records, 'record') }} today</span>
      <span class="grow" /><RouterLink class="btn" :to="`/rosters/${name}`"
        >To the roster</RouterLink
      >
    </div>
    <p v-if="!sets" class="soft" role="status">Looking back …</p>
    <div v-else-if="!sets.length" class="empty">
      <h2>Nothing has altered this roster yet</h2>
      <p>Drop a file with people anywhere.</p>
    </div>
    <template v-else>
      <TimeBars :moments="moments" :pointed="pointed" @point="(id) => (pointed = id)" />
      <table class="list">
        <thead>
          <tr>
            <th>When</th>
            <th>What</th>
            <th class="n">Joined</th>
            <th class="n">Changed</th>
            <th class="n">Left</th>
            <th class="n">In the roster then</th>
          </tr>
        </thead>
        <tbody>
          <tr
            v-for="one in [...moments].reverse()"
            :key="one.id"
            :class="{ on: one.id === pointed }"
            @mouseenter="pointed = one.id"
          >
            <td>{{ momentInFull(one.at) }}</td>
            <td>
              <RouterLink :to="`/receipts/${one.id}`">{{ one.title }}</RouterLink><span
                v-if="one.undone"
                class="soft"
                >, taken back later</span
              >
            </td>
            <td class="n">{{ one.joined ? count(one.joined) : '' }}</td>
            <td class="n">{{ one.changed ? count(one.changed) : '' }}</td>
            <td class="n">{{ one.left ? count(one.left) : '' }}</td>
            <td class="n">
              <RouterLink :to="`/rosters/${name}?day=${dayOf(one.at)}`">{{
                count(one.size)
              }}</RouterLink>
            </td>
          </tr>
        </tbody>
      </table>
    </template>
  </section>
</template>

<style scoped>
.page {
  flex: 1;
  min-width: 0;
  overflow: auto;
  padding: 12px 18px 24px;
  background: var(--snow);
}
.head {
  display: flex;
  gap: 12px;
  align-items: baseline;
}
</style>
