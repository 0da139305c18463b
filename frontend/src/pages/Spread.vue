<script setup lang="ts">
import { watch } from 'vue'
import { useRoute } from 'vue-router'
import ChooseOne from '@/components/controls/ChooseOne.vue'
import SpreadAsks from '@/components/groups/SpreadAsks.vue'
import SpreadGroups from '@/components/groups/SpreadGroups.vue'
import VirtualTable, { type TableColumn } from '@/components/VirtualTable.vue'
import type { Placed } from '@/api/types'
import { usePages } from '@/composables/usePages'
import { useSpread } from '@/composables/useSpread'
import { usePageTitle } from '@/composables/usePageTitle'
import { count, counted, listed } from '@/logic/words'

const route = useRoute()
const name = String(route.params.roster)
const kind = String(route.params.kind)
const { groups, shortlists, who, asks, found, given, asking, problem, ...more } = useSpread(
  name,
  kind,
  Number(route.query.shortlist ?? 0),
)
const { fields, evenly, altered, moving, troubles, ask, review } = more
const COLUMNS: TableColumn[] = [
  { key: 'name', title: 'person', width: 'minmax(180px, 2fr)' },
  { key: 'key', title: 'key', width: '130px', mono: true },
  { key: 'part', title: 'part', width: 'minmax(150px, 1fr)' },
  { key: 'had', title: 'today', width: 'minmax(110px, 1fr)' },
  { key: 'gets', title: 'gets', width: '180px' },
]
const placed = usePages<Placed>(async (start, limit) => ({
  total: found.value?.placed.length ?? 0,
  rows: found.value?.placed.slice(start, start + limit) ?? [],
}))
const options = (one: Placed) =>
  (found.value?.sizes ?? [])
    .filter((each) => each.part === one.part)
    .map((each) => ({ value: each.key.at(-1) ?? '', label: each.label }))
watch(found, () => void placed.restart())
usePageTitle(() => groups.value && `Spread people over ${groups.value.title.toLowerCase()}`)
</script>

<template>
  <SpreadAsks
    v-model:who="who"
    v-model:asks="asks"
    :groups="groups"
    :shortlists="shortlists"
    :fields="fields"
    :evenly="evenly"
    :asking="asking"
    :back="`/groups/${name}/${kind}`"
    @ask="ask"
  />
  <section class="page">
    <p v-if="problem" class="flag stop" role="alert">{{ problem }}</p>
    <div v-if="!found && !problem" class="empty">
      <h2>{{ asking ? 'Looking for an arrangement …' : 'Say who and how, then work it out' }}</h2>
      <p v-if="!asking">
        Least, most, ages, apart and together are kept without exception. Where they clash it is
        said which, and by how much.
      </p>
    </div>
    <template v-if="found">
      <div class="head">
        <h2>
          {{
            found.clashes.length
              ? 'Not everything can be kept'
              : `${counted(found.placed.length, 'person gets', 'people get')} a group, ${count(found.stay)} keep theirs`
          }}
        </h2>
        <span class="soft"
          >{{
            found.moved
              ? `${counted(found.moved, 'person leaves', 'people leave')} the group of ` +
                `today${found.is_least && !asks.anew ? ', fewer cannot do' : ''}`
              : ''
          }}{{ altered ? ` · ${counted(altered, 'altered here', 'altered here')}` : '' }}</span
        >
        <span class="grow" />
        <button v-if="found.placed.length" class="btn main" @click="review">
          See what {{ counted(found.placed.length, 'change') }} would do
        </button>
      </div>
      <div v-if="found.clashes.length" class="flag stop">
        <ul>
          <li v-for="one in found.clashes" :key="one">{{ one }}</li>
        </ul>
      </div>
      <p v-if="found.lacking" class="flag">
        {{ counted(found.lacking, 'person has', 'people have') }} no
        {{ listed(groups?.part_fields ?? []).toLowerCase() }}: they cannot be spread before that is
        known.
      </p>
      <SpreadGroups :groups="groups" :sizes="found.sizes" :moving="moving" :troubles="troubles" />
      <VirtualTable
        v-if="found.placed.length"
        label="Who gets which group"
        class="placed"
        :columns="COLUMNS"
        :pages="placed"
        :selected="-1"
      >
        <template #cell="{ row, column }">
          <ChooseOne
            v-if="column.key === 'gets'"
            :model-value="given[row.record] ?? row.group"
            :options="options(row)"
            :label="`Group of ${row.name}`"
            @update:model-value="(group) => (given = { ...given, [row.record]: group ?? '' })"
          />
          <template v-else-if="column.key === 'had'">{{ row.had || '–' }}</template>
          <template v-else>{{ row[column.key as 'name' | 'key' | 'part'] }}</template>
        </template>
      </VirtualTable>
    </template>
  </section>
</template>

<style scoped>
.page {
  flex: 1;
  min-width: 0;
  background: var(--snow);
  padding: 14px 16px;
  overflow-y: auto;
}
.head {
  display: flex;
  gap: 12px;
  align-items: center;
  flex-wrap: wrap;
  margin-bottom: 10px;
}
.flag {
  margin-bottom: 10px;
}
.placed {
  flex: none;
  height: 440px;
  border: 1px solid var(--line);
}
.placed :deep(.choose) {
  width: 100%;
}
</style>
