<script setup lang="ts">
import { computed, defineAsyncComponent, ref, watch } from 'vue'
import { useEventListener, useMediaQuery } from '@vueuse/core'
import { ConfigProvider } from 'ant-design-vue'
import { useRoute, useRouter } from 'vue-router'
import AskDialog from './components/AskDialog.vue'
import DropAnywhere from './components/DropAnywhere.vue'
import KeySheet from './components/KeySheet.vue'
import PracticeBand from './components/PracticeBand.vue'
import TopLine from './components/TopLine.vue'
import { useCatalog } from './composables/useCatalog'
import { useConnection } from './composables/useConnection'
import { useDialogEscape } from './composables/useDialogEscape'
import { useHeldEnter } from './composables/useHeldEnter'
import { useHouse } from './composables/useHouse'
import { useSession } from './composables/useSession'
import { placeOf } from './logic/places'
import { themeTokens } from './theme/tokens'

/** What helps on every page, and is not waited for by any. */
const GoTo = defineAsyncComponent(() => import('./components/GoTo.vue'))
const CutText = defineAsyncComponent(() => import('./components/CutText.vue'))

const session = useSession()
const catalog = useCatalog()
const route = useRoute()
const router = useRouter()
/** Paper is always light. */
const dark = useMediaQuery('screen and (prefers-color-scheme: dark)')
/** One page for each intake or roster: another one is another page, another part of one is not. */
const place = computed(() => placeOf(route))
const content = ref<HTMLElement>()
const { isLost } = useConnection()
const { isPractice, ask: askHouse } = useHouse()
watch(
  () => session.state.asked && !session.state.me,
  (isOutside) => isOutside && void askHouse(),
  { immediate: true },
)
useDialogEscape()
useHeldEnter()
const look = computed(() => themeTokens(dark.value))

watch(
  () => session.state.me,
  (me) => {
    if (me) return
    catalog.forget()
    if (session.state.asked && !route.meta.open)
      void router.push({ path: '/sign-in', query: { to: route.fullPath } })
  },
)
// After a link the focus is in the page that it led to: keys act there, and a reader reads it.
watch(
  () => route.path,
  () => {
    if (document.activeElement instanceof HTMLAnchorElement)
      content.value?.focus({ preventScroll: true })
  },
  { flush: 'post' },
)
const EACH_MINUTE = 60_000
let asked = Date.now()
/**
 * Who comes back to the window is told whether the session still is, and where else the account is
 * signed in.
 */
function comeBack(): void {
  if (
    document.visibilityState !== 'visible' ||
    !session.state.me ||
    Date.now() - asked < EACH_MINUTE
  )
    return
  asked = Date.now()
  void session.look()
}
useEventListener(document, 'visibilitychange', comeBack)
</script>

<template>
  <ConfigProvider :theme="look" :auto-insert-space-in-button="false">
    <template v-if="session.state.me">
      <a class="skip" href="#content" @click.prevent="content?.focus()">To the content</a>
      <TopLine />
      <DropAnywhere />
      <KeySheet />
      <AskDialog />
      <GoTo />
      <CutText />
    </template>
    <PracticeBand v-if="isPractice" />
    <p v-if="isLost" class="lost" role="status">
      Nevefield does not answer. What was done is kept; it is asked again every few seconds.
    </p>
    <main
      id="content"
      ref="content"
      tabindex="-1"
      :class="{ alone: !session.state.me, banded: isPractice }"
    >
      <RouterView v-slot="{ Component }"><component :is="Component" :key="place" /></RouterView>
    </main>
  </ConfigProvider>
</template>

<style scoped>
.skip {
  position: absolute;
  z-index: 20;
  left: 8px;
  top: 8px;
  padding: 4px 12px;
  background: var(--snow);
  border: 2px solid var(--fir);
  color: var(--ink);
}
.skip:not(:focus) {
  clip-path: inset(50%);
}
.lost {
  position: fixed;
  z-index: 1200;
  inset: auto 0 0;
  padding: 6px 16px;
  background: var(--ink);
  color: var(--snow);
}
main:focus {
  outline: none;
}
main {
  height: calc(100vh - 44px);
  display: flex;
  min-height: 0;
}
main.alone {
  height: 100vh;
}
main.banded {
  height: calc(100vh - 66px);
}
main.alone.banded {
  height: calc(100vh - 22px);
}
@media print {
  main {
    height: auto;
    display: block;
  }
}
</style>
