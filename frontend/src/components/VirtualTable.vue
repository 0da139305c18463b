<script setup lang="ts" generic="T">
import { computed, ref, useId, watch } from 'vue'
import { useVirtualizer } from '@tanstack/vue-virtual'
import type { UsePages } from '@/composables/usePages'

export interface TableColumn {
  key: string
  title: string
  width: string
  mono?: boolean
  right?: boolean
  sortable?: boolean
}

const props = defineProps<{
  label: string
  columns: TableColumn[]
  pages: UsePages<T>
  selected: number
  /** The column of the active cell, where single cells are worked on. */
  active?: string
  sort?: string
  down?: boolean
}>()
const emit = defineEmits<{ choose: [index: number]; open: [index: number]; sort: [key: string] }>()

const id = useId()
const scroller = ref<HTMLElement>()
const virtual = useVirtualizer(
  computed(() => ({
    count: props.pages.total.value,
    getScrollElement: () => scroller.value ?? null,
    estimateSize: () => 28,
    overscan: 12,
  })),
)
const shown = computed(() => virtual.value.getVirtualItems())
const grid = computed(() => props.columns.map((column) => column.width).join(' '))
/**
 * Every row is as wide as this at least, so that columns stand under each other; the table scrolls
 * when it is narrower.
 */
const least = computed(
  () =>
    `${props.columns.reduce((sum, column) => sum + Number(/(\d+)px/.exec(column.width)?.[1] ?? 100), 0)}px`,
)

/**
 * What a reader speaks of while the table has the focus: the chosen row, or in it the active cell
 * (WAI-ARIA 1.2, `aria-activedescendant`). What is scrolled out of sight is not there to be named.
 */
const spokenOf = computed(() => {
  if (!shown.value.some((item) => item.index === props.selected)) return undefined
  const column = props.columns.findIndex((one) => one.key === props.active)
  return column < 0 ? `${id}-${props.selected}` : `${id}-${props.selected}-${column}`
})

function order(column: TableColumn): 'ascending' | 'descending' | undefined {
  if (!column.sortable || props.sort !== column.key) return undefined
  return props.down ? 'descending' : 'ascending'
}

watch(shown, (items) => items.length && props.pages.need(items[0]!.index, items.at(-1)!.index), {
  flush: 'post',
})
watch(
  () => props.selected,
  (index) => index >= 0 && virtual.value.scrollToIndex(index, { align: 'auto' }),
  { flush: 'post' },
)
</script>

<template>
  <div
    ref="scroller"
    class="table"
    role="grid"
    tabindex="0"
    :aria-label="label"
    :aria-rowcount="pages.total.value + 1"
    :aria-colcount="columns.length"
    :aria-activedescendant="spokenOf"
    :aria-busy="pages.loading.value"
  >
    <div
      class="head"
      role="row"
      aria-rowindex="1"
      :style="{ gridTemplateColumns: grid, minWidth: least }"
    >
      <div
        v-for="column in columns"
        :key="column.key"
        role="columnheader"
        :class="{ right: column.right }"
        :aria-sort="order(column)"
      >
        <button
          v-if="column.sortable"
          class="plain"
          :title="`Sort by ${column.title}`"
          @click="emit('sort', column.key)"
        >
          {{ column.title
          }}<span v-if="order(column)" aria-hidden="true">{{ down ? ' ↓' : ' ↑' }}</span>
        </button>
        <template v-else>{{ column.title }}</template>
      </div>
    </div>
    <div
      class="body"
      role="rowgroup"
      :style="{ height: `${virtual.getTotalSize()}px`, minWidth: least }"
    >
      <div
        v-for="item in shown"
        :id="`${id}-${item.index}`"
        :key="item.index"
        class="row"
        role="row"
        :aria-rowindex="item.index + 2"
        :aria-selected="item.index === selected"
        :class="{ on: item.index === selected }"
        :style="{ gridTemplateColumns: grid, transform: `translateY(${item.start}px)` }"
        @click="emit('choose', item.index)"
        @dblclick="emit('open', item.index)"
      >
        <template v-if="pages.at(item.index) !== undefined">
          <div
            v-for="(column, place) in columns"
            :id="`${id}-${item.index}-${place}`"
            :key="column.key"
            role="gridcell"
            :aria-colindex="place + 1"
            :class="{ mono: column.mono, right: column.right }"
          >
            <slot
              name="cell"
              :row="pages.at(item.index) as T"
              :column="column"
              :index="item.index"
            />
          </div>
        </template>
        <div v-else role="gridcell" class="soft">…</div>
      </div>
    </div>
  </div>
</template>

<style scoped>
.table {
  flex: 1;
  min-height: 0;
  min-width: 0;
  overflow: auto;
  background: var(--snow);
  contain: strict;
}
.head,
.row {
  display: grid;
  width: 100%;
}
.head {
  position: sticky;
  top: 0;
  z-index: 2;
  background: var(--snow);
  border-bottom: 1px solid var(--line);
  color: var(--ink2);
  font-size: 12.5px;
}
.head > div,
.row > div {
  padding: 0 8px;
  line-height: 27px;
  height: 28px;
  min-width: 0;
  overflow: hidden;
  white-space: nowrap;
  text-overflow: ellipsis;
}
.row > div:has(.spread) {
  overflow: visible;
  position: relative;
  z-index: 1;
}
.head .plain:hover {
  color: var(--ink);
  text-decoration: underline;
}
.body {
  position: relative;
}
.row {
  position: absolute;
  top: 0;
  left: 0;
  border-bottom: 1px solid var(--drift);
  cursor: pointer;
}
.row:hover {
  background: var(--shade);
}
.row.on {
  background: var(--row-on);
  box-shadow:
    inset 0 1px 0 var(--fir),
    inset 0 -1px 0 var(--fir);
}
.right {
  text-align: right;
}
</style>
