<script setup lang="ts">
import { computed, nextTick, onMounted, ref } from 'vue'
import { Modal, message } from 'ant-design-vue'
import { useRoute, useRouter } from 'vue-router'
import ColumnMore from '@/components/opening/ColumnMore.vue'
import ColumnRow from '@/components/opening/ColumnRow.vue'
import NotHere from '@/components/NotHere.vue'
import OpeningEffect from '@/components/opening/OpeningEffect.vue'
import OpeningHead from '@/components/opening/OpeningHead.vue'
import { forgetOpening } from '@/api/openings'
import { useCatalog } from '@/composables/useCatalog'
import { useKeys } from '@/composables/useKeys'
import { useOpening } from '@/composables/useOpening'
import { usePageTitle } from '@/composables/usePageTitle'
import { useSession } from '@/composables/useSession'
import {
  addPeople,
  checkOrder,
  chooseKind,
  effectWords,
  likestRoster,
  sayOf,
  sortWay,
} from '@/logic/opening'

/** A roster from a file: what is proposed, each part of which can be altered, and what follows. */
const id = Number(useRoute().params.id)
const router = useRouter()
const session = useSession()
const catalog = useCatalog()
const { opening, lost, problem, isWorking, canUndo, load, say, undo, open } = useOpening(id)
const shown = ref('')
const like = computed(() => opening.value && likestRoster(opening.value))

async function openIt(): Promise<void> {
  const opened = await open()
  if (!opened) return
  await session.look()
  await catalog.load()
  void message.success(`The roster is open; its first file waits to be applied.`, 5)
  await router.push(`/intakes/${opened.intake}/problems`)
}

function forget(): void {
  Modal.confirm({
    title: `Throw away “${opening.value?.file_name}”`,
    content: 'No roster is made of it, and nothing of the file is kept.',
    okText: 'Throw it away',
    cancelText: 'Cancel',
    onOk: async () => {
      await forgetOpening(id).then(
        () => router.push('/rosters'),
        (error: Error) => void message.error(error.message, 6),
      )
    },
  })
}

async function toggle(heading: string): Promise<void> {
  shown.value = shown.value === heading ? '' : heading
  await nextTick()
  document.querySelector('.more')?.scrollIntoView({ block: 'nearest' })
}

useKeys({ z: () => canUndo.value && void undo() })
onMounted(load)
usePageTitle(() => opening.value && `A roster from ${opening.value.file_name}`)
</script>

<template>
  <NotHere
    v-if="lost"
    title="There is no such file"
    :problem="lost"
    to="/rosters"
    back="All rosters"
  />
  <p v-else-if="!opening" class="soft loading" role="status">
    Looking what stands under each heading …
  </p>
  <div v-else class="split">
    <section class="sheet">
      <OpeningHead
        :opening="opening"
        :working="isWorking"
        :can-undo="canUndo"
        @title="(title) => say((all) => ({ ...all, title }))"
        @key="(key) => say((all) => ({ ...all, key }))"
        @undo="undo"
        @forget="forget"
        @open="openIt"
      />
      <p v-if="problem" class="flag stop" role="alert">{{ problem }}</p>
      <p v-if="like" class="flag">
        {{ like.fitting }} of its {{ like.columns }} columns fit
        <RouterLink :to="`/rosters/${like.roster}`">{{ like.title }}</RouterLink>: if it is a file
        for that roster, throw it away here and upload it there.
      </p>
      <p class="unseen" role="status">{{ effectWords(opening) }}</p>
      <div role="table" aria-label="Columns of the file">
        <div class="columns titles" role="row">
          <span role="columnheader">column in the file</span>
          <span role="columnheader">stands under it</span>
          <span role="columnheader">field</span>
          <span role="columnheader">kind</span>
          <span role="columnheader">what was seen, and what will be checked</span>
          <span role="columnheader"><span class="unseen">more</span></span>
        </div>
        <template v-for="column in opening.columns" :key="column.heading">
          <ColumnRow
            :column="column"
            :rows="opening.rows"
            :open="shown === column.heading"
            @toggle="toggle(column.heading)"
            @title="(title) => say((all) => sayOf(all, column.heading, { title }))"
            @kind="(kind) => say((all) => chooseKind(all, column.heading, kind))"
          />
          <ColumnMore
            v-if="shown === column.heading && column.field"
            :opening="opening"
            :column="column"
            @say="(said) => say((all) => sayOf(all, column.heading, said))"
            @sort="(text, meant) => say((all) => sortWay(all, column.heading, text, meant))"
            @key="(key) => say((all) => ({ ...all, key }))"
          />
        </template>
      </div>
    </section>
    <OpeningEffect
      :opening="opening"
      :working="isWorking"
      @people="(name, on) => say((all) => addPeople(all, name, on))"
      @order="(first, last, on) => say((all) => checkOrder(all, first, last, on))"
    />
  </div>
</template>

<style scoped src="../components/opening/grid.css"></style>
<style scoped>
.split {
  flex: 1;
  display: flex;
  min-width: 0;
  min-height: 0;
}
.sheet {
  flex: 1;
  min-width: 0;
  overflow: auto;
  background: var(--snow);
}
.titles {
  padding: 4px 22px;
  font-size: 12px;
  color: var(--ink2);
  border-bottom: 1px solid var(--line);
  position: sticky;
  top: 0;
  background: var(--snow);
  z-index: 1;
}
.flag {
  margin: 0 22px 8px;
}
.loading {
  padding: 22px;
}
@media (max-width: 999px) {
  .split {
    flex-direction: column;
    overflow: auto;
  }
  .sheet {
    flex: none;
    overflow-x: auto;
  }
}
</style>
