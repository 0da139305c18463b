<script setup lang="ts">
import { computed } from 'vue'
import type { PhotosBrought } from '@/api/types'
import { count, counted } from '@/logic/words'

/** What became of photographs that were brought: each file stands in one place. */
const props = defineProps<{ told: PhotosBrought }>()

const SHOWN = 12
const plain = (files: string[]) => files.map((file) => ({ file, why: '' }))
const groups = computed(() =>
  [
    { title: 'have no number of anybody in their names', files: plain(props.told.nobody) },
    { title: 'may be of several people', files: props.told.several },
    { title: 'are second files of one person', files: props.told.doubles },
    { title: 'cannot be taken', files: props.told.wrong },
    { title: 'were taken, and print coarsely', files: props.told.coarse },
    { title: 'were there already', files: plain(props.told.same) },
  ].filter((group) => group.files.length),
)
</script>

<template>
  <div class="told" role="status">
    <p>
      <b>{{ counted(told.taken, 'photograph was', 'photographs were') }} taken</b> of
      {{ counted(told.total, 'file')
      }}<template v-if="told.left">, {{ count(told.left) }} of them no pictures of people</template
      >.
    </p>
    <details v-for="group in groups" :key="group.title">
      <summary>{{ count(group.files.length) }} {{ group.title }}</summary>
      <ul>
        <li v-for="one in group.files.slice(0, SHOWN)" :key="one.file">
          <span class="mono">{{ one.file }}</span> <span class="soft">{{ one.why }}</span>
        </li>
        <li v-if="group.files.length > SHOWN" class="soft">
          and {{ count(group.files.length - SHOWN) }} more
        </li>
      </ul>
    </details>
  </div>
</template>

<style scoped>
.told {
  margin-top: 10px;
}
details {
  margin-top: 4px;
}
summary {
  cursor: pointer;
}
ul {
  margin: 2px 0 6px 18px;
}
li {
  overflow-wrap: anywhere;
}
</style>
