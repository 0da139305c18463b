<script setup lang="ts">
import { computed } from 'vue'
import type { Move } from '@/api/types'
import { useCatalog } from '@/composables/useCatalog'
import { matrixOf } from '@/logic/matrix'

const props = defineProps<{ moves: Move[]; list: string }>()
const catalog = useCatalog()
const matrix = computed(() => matrixOf(props.moves))
const label = (code: string) => catalog.label(props.list, code) || code
const strength = (cell: number) => (cell ? Math.round(25 + 75 * (cell / matrix.value.most)) : 0)
</script>

<template>
  <div v-if="matrix.names.length <= 14" class="around">
    <table>
      <thead>
        <tr>
          <th scope="col"><span class="unseen">from</span></th>
          <th v-for="name in matrix.names" :key="name" scope="col">{{ label(name) }}</th>
          <th scope="col" class="leave">leave</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="(row, from) in matrix.cells" :key="matrix.names[from]">
          <th scope="row">{{ label(matrix.names[from] ?? '') }}</th>
          <td
            v-for="(cell, to) in row"
            :key="matrix.names[to]"
            :class="{ self: from === to, strong: strength(cell) > 60 }"
            :style="
              cell
                ? {
                    background: `color-mix(in srgb, var(--changed) ${strength(cell)}%, var(--snow))`,
                  }
                : {}
            "
          >
            {{ cell || '' }}
          </td>
          <td class="leave">{{ matrix.leaving[from] || '' }}</td>
        </tr>
      </tbody>
    </table>
  </div>
  <p v-else class="soft">
    From and to {{ matrix.names.length }} codes; too many to draw. The people stand below.
  </p>
</template>

<style scoped>
.around {
  overflow: auto;
  max-height: 300px;
  flex: none;
}
table {
  border-collapse: separate;
  border-spacing: 1px;
}
th {
  font-weight: 400;
  font-size: 12.5px;
  color: var(--ink2);
  padding: 2px 6px;
  text-align: center;
  max-width: 96px;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
th[scope='row'] {
  text-align: right;
  padding-right: 10px;
}
td {
  width: 57px;
  min-width: 46px;
  height: 27px;
  text-align: center;
  background: var(--shade);
}
td.self {
  background: var(--drift);
}
td.strong {
  color: #fff;
}
td.leave,
th.leave {
  background: none;
  color: var(--ink2);
}
</style>
