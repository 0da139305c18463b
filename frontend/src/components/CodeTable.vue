<script setup lang="ts">
import { computed } from 'vue'
import TextBox from '@/components/TextBox.vue'
import YearBar from '@/components/YearBar.vue'
import type { Code } from '@/api/types'
import { asTree } from '@/logic/codetree'
import { count } from '@/logic/words'

defineProps<{ may: boolean }>()
const codes = defineModel<Code[]>({ required: true })
const rows = computed(() =>
  asTree(codes.value).map((row) => ({ ...row, one: codes.value[row.index]! })),
)
const hasParents = computed(() => codes.value.some((one) => one.parent))
const most = computed(() => Math.max(1, ...codes.value.map((one) => one.used)))

const aliases = (one: Code) => one.aliases.join('; ')
const setAliases = (one: Code, event: Event) =>
  (one.aliases = (event.target as HTMLInputElement).value
    .split(';')
    .map((part) => part.trim())
    .filter(Boolean))
const setDay = (one: Code, part: 'first_day' | 'last_day', event: Event) =>
  (one[part] = (event.target as HTMLInputElement).value || null)
</script>

<template>
  <table class="list">
    <thead>
      <tr>
        <th>code</th>
        <th>label</th>
        <th>parent</th>
        <th>what others call it</th>
        <th>first day</th>
        <th>last day</th>
        <th>this year</th>
        <th class="n">records</th>
        <th />
      </tr>
    </thead>
    <tbody>
      <template v-for="{ one, index, depth, under } in rows" :key="index">
        <tr v-if="under" class="under">
          <th colspan="9" scope="rowgroup">
            under <span class="mono">{{ under }}</span>
          </th>
        </tr>
        <tr>
          <template v-if="may">
            <td :style="{ paddingLeft: hasParents ? `${8 + depth * 18}px` : undefined }">
              <input
                v-model="one.code"
                class="box mono code"
                :disabled="one.used > 0"
                :title="one.used ? 'Records use it: give it a last day instead' : ''"
                aria-label="Code"
              />
            </td>
            <td>
              <input v-model="one.label" class="box label" :aria-label="`Label of ${one.code}`" />
            </td>
            <td>
              <input
                v-model="one.parent"
                class="box mono code"
                :aria-label="`Parent of ${one.code}`"
              />
            </td>
            <td>
              <TextBox
                class="box wide"
                :model-value="aliases(one)"
                :aria-label="`Other names of ${one.code}`"
                @change="setAliases(one, $event)"
              />
            </td>
            <td>
              <TextBox
                class="box mono day"
                placeholder="always"
                :model-value="one.first_day"
                :aria-label="`First day of ${one.code}`"
                @change="setDay(one, 'first_day', $event)"
              />
            </td>
            <td>
              <TextBox
                class="box mono day"
                placeholder="open"
                :model-value="one.last_day"
                :aria-label="`Last day of ${one.code}`"
                @change="setDay(one, 'last_day', $event)"
              />
            </td>
          </template>
          <template v-else>
            <td
              class="mono"
              :style="{ paddingLeft: hasParents ? `${8 + depth * 18}px` : undefined }"
            >
              {{ one.code }}
            </td>
            <td>{{ one.label }}</td>
            <td class="mono">{{ one.parent }}</td>
            <td class="soft">{{ aliases(one) }}</td>
            <td class="mono">{{ one.first_day }}</td>
            <td class="mono">{{ one.last_day }}</td>
          </template>
          <td><YearBar :first="one.first_day ?? null" :last="one.last_day ?? null" /></td>
          <td class="n used">
            <i :style="{ width: `${(one.used / most) * 40}px` }" />{{ count(one.used) }}
          </td>
          <td>
            <button
              v-if="may && !one.used"
              class="btn"
              :aria-label="`Remove ${one.code || 'the empty code'}`"
              @click="codes.splice(index, 1)"
            >
              Remove
            </button>
          </td>
        </tr>
      </template>
    </tbody>
  </table>
</template>

<style scoped>
td {
  height: 36px !important;
}
.under th {
  padding-top: 10px;
  text-align: left;
  font-weight: 400;
  color: var(--ink2);
}
td,
thead th {
  padding-left: 6px;
  padding-right: 6px;
}
.code {
  width: 82px;
}
.label {
  width: 138px;
}
.day {
  width: 98px;
}
.wide {
  width: 100%;
  min-width: 110px;
}
.used i {
  display: inline-block;
  height: 8px;
  background: var(--spark2);
  margin-right: 8px;
  vertical-align: 0;
}
</style>
