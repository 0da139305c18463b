<script setup lang="ts">
import { computed } from 'vue'
import type { GroupKind, Shortlist } from '@/api/types'
import { count } from '@/logic/words'

/** Kinds of group by roster, and the shortlists. */
const props = defineProps<{
  kinds: GroupKind[]
  shortlists: (Shortlist & { roster: string })[]
  roster: string
  kind: string
}>()

const rosters = computed(() =>
  [...new Set(props.kinds.map((one) => one.roster))].map((name) => {
    const kinds = props.kinds.filter((one) => one.roster === name)
    return { name, title: kinds[0]!.roster_title, kinds }
  }),
)
</script>

<template>
  <nav class="kinds no-print" aria-label="Kinds of group">
    <template v-for="one in rosters" :key="one.name">
      <h3>{{ one.title }}</h3>
      <RouterLink
        v-for="each in one.kinds"
        :key="each.kind"
        :to="`/groups/${each.roster}/${each.kind}`"
        :class="{ on: each.kind === kind && each.roster === roster }"
        ><span>{{ each.title }}</span
        ><b>{{ count(each.groups) }}</b></RouterLink
      >
    </template>
    <template v-if="shortlists.length">
      <h3>Shortlists</h3>
      <RouterLink
        v-for="one in shortlists"
        :key="one.id"
        :to="`/rosters/${one.roster}?shortlist=${one.id}`"
        :title="one.said || `kept by ${one.by}`"
        ><span>{{ one.title }}</span
        ><b>{{ count(one.count) }}</b></RouterLink
      >
    </template>
  </nav>
</template>

<style scoped>
.kinds {
  width: 196px;
  flex: none;
  padding: 12px 12px 20px;
  border-right: 1px solid var(--line);
  overflow-y: auto;
}
h3 {
  font-weight: 400;
  font-size: 13px;
  color: var(--ink2);
  margin: 14px 8px 6px;
}
h3:first-child {
  margin-top: 0;
}
a {
  display: flex;
  justify-content: space-between;
  gap: 8px;
  padding: 5px 8px;
  color: var(--ink);
  text-decoration: none;
  border-left: 3px solid transparent;
}
a span {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
a b {
  font-weight: 400;
}
a:hover {
  background: var(--row-on);
}
a.on {
  background: var(--snow);
  border-left-color: var(--ink);
  font-weight: 600;
}
a.on b {
  font-weight: 600;
}
</style>
