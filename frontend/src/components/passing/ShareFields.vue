<script setup lang="ts">
import { computed } from 'vue'
import GroupsFrom from './GroupsFrom.vue'
import PutRow from './PutRow.vue'
import ConditionEditor from '@/components/definition/ConditionEditor.vue'
import type { Condition, FieldDocument } from '@/api/types'
import { condition } from '@/logic/definition'
import { moved } from '@/logic/design'
import type { Put, Share, Way } from '@/logic/passing'

/** What of one roster goes to a destination: who, which of their fields, which groups. */
const props = defineProps<{ title: string; fields: FieldDocument[]; way: Way }>()
const share = defineModel<Share>({ required: true })

const fixed = computed(() => props.way.format === 'fixed width')
const set = (next: Partial<Share>) => (share.value = { ...share.value, ...next })
const putAt = (place: number, put: Put) =>
  set({ puts: share.value.puts.map((one, at) => (at === place ? put : one)) })
const where = computed({
  get: () => share.value.where ?? condition(props.fields[0]?.name ?? '', 'is', ''),
  set: (when: Condition) => set({ where: when }),
})
</script>

<template>
  <section :aria-label="title">
    <h3>{{ title }}</h3>
    <template v-if="share.where">
      <ConditionEditor v-model="where" :fields="fields" :locked="false" />
      <button class="link" @click="set({ where: null })">everybody of the roster</button>
    </template>
    <p v-else>
      everybody of the roster <button class="link" @click="set({ where })">set a condition</button>
    </p>
    <table>
      <thead>
        <tr>
          <th>Their field</th>
          <th>What goes into it</th>
          <th>Written</th>
          <th v-if="fixed">Wide</th>
          <th>Needed</th>
          <th />
        </tr>
      </thead>
      <tbody>
        <PutRow
          v-for="(put, place) in share.puts"
          :key="place"
          :model-value="put"
          :fields="fields"
          :fixed="fixed"
          @update:model-value="(next) => putAt(place, next)"
          @remove="set({ puts: share.puts.filter((_, at) => at !== place) })"
          @up="set({ puts: moved(share.puts, place, place - 1) })"
        />
      </tbody>
    </table>
    <button class="btn" @click="set({ puts: [...share.puts, { to: '', from: fields[0]?.name }] })">
      + another field of theirs
    </button>
    <GroupsFrom
      v-if="way.kind === 'scim'"
      :model-value="share.groups ?? []"
      :fields="fields"
      @update:model-value="(groups) => set({ groups })"
    />
  </section>
</template>

<style scoped>
h3 {
  font-size: 15px;
  font-weight: 600;
  margin: 14px 0 4px;
}
table {
  width: 100%;
  margin: 6px 0;
}
th {
  text-align: left;
  font-weight: 400;
  font-size: 12.5px;
  color: var(--ink2);
}
.link {
  min-height: 24px;
}
</style>
