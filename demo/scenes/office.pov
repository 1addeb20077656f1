// "The Last Boat to Vell": behind the ticket counter. Invented place. One unit is one metre.
// Declared from the command line: QUICK, LADDER (0|1), TX (where the mail trolley's middle is), ROLL (degrees of its wheels), and PART,
// what is drawn: 0 = the room, 1 = the trolley alone, 2 = its shadow on even grey ground, 3 = that ground without it, 4 = the ladder alone.
// What is drawn alone carries its coverage as alpha.
#version 3.7;
#include "common.inc"
#include "woods.inc"
#ifndef(PART) #declare PART=0; #end
#ifndef(LADDER) #declare LADDER=0; #end
#ifndef(TX) #declare TX=0; #end
#ifndef(ROLL) #declare ROLL=0; #end
global_settings {
  assumed_gamma 1 max_trace_level 4 adc_bailout .04
  #if (!QUICK & PART=0)
  radiosity { pretrace_start .08 pretrace_end .012 count 70 nearest_count 6 error_bound .9 recursion_limit 1 low_error_factor .6 gray_threshold .1 brightness 1.25 minimum_reuse .02 }
  #end
}
camera { location <.15,1.52,-4.6> right x*16/9 look_at <.12,1.2,0> angle 50 }

// ---- materials -----------------------------------------------------------------------------------------
#declare G1 = function { pattern { granite scale .45 } };
#declare B1 = function { pattern { bozo turbulence .7 octaves 5 lambda 2.4 scale 1.1 } };
#macro Painted(C, D)   // old gloss paint on plaster
  texture {
    pigment { function { .5*G1(x,y,z)+.5*B1(x,y,z) } color_map { [0 rgb C*.80] [.4 rgb C*.95] [.7 rgb C] [1 rgb C*1.08] } }
    normal { average normal_map { [1 granite .06 scale .35] [1 bumps .10 scale .013] [.8 wrinkles .12 scale .7] } }
    finish { diffuse .8 specular D roughness .05 }
  }
#end
#macro Wood(C, S, V)
  #local R=seed(S);
  texture {
    pigment { wood turbulence <.04,.03,.14> octaves 5 scale <.07,.07,1> rotate #if (V) <88+3*rand(R),0,3*(rand(R)-.5)> #else <0,88+4*rand(R),3*(rand(R)-.5)> #end translate <rand(R)*5,rand(R)*7,rand(R)*3>
      color_map { [0 rgb C*.74] [.45 rgb C] [.8 rgb C*.86] [1 rgb C*.58] } }
    normal { granite .035 #if (V) scale <.05,.6,.05> #else scale <.6,.04,.05> #end }
    finish { diffuse .72 specular .16 roughness .03 }
  }
#end
#declare Oak = <.36,.215,.105>; #declare Pine = <.47,.335,.19>;
#declare Brass = texture { pigment { rgb <.45,.30,.11> } finish { diffuse .35 specular .7 roughness .02 metallic reflection { .2,.4 metallic } } };
#declare Iron = texture { pigment { granite scale .08 color_map { [0 rgb .03] [1 rgb .07] } } normal { granite .06 scale .03 } finish { diffuse .65 specular .3 roughness .04 } };

#if (PART=0)
// ---- floor, walls, ceiling --------------------------------------------------------------------------------
#declare RF=seed(8);
#declare X0=-4;
#while (X0<4.2)
  #local Z0=-5-1.4*rand(RF);
  #while (Z0<1.9)
    #local L=1.5+1.2*rand(RF); #local C=<.30,.21,.125>*(.80+.3*rand(RF));
    box { <X0+.0015,-.03,Z0+.0015> <X0+.1225,0,Z0+L-.0015>
      texture { pigment { wood turbulence <.04,.03,.12> octaves 5 scale <.05,.05,.9> rotate <3*rand(RF),4*(rand(RF)-.5),0> translate <rand(RF)*5,rand(RF)*7,rand(RF)*3> color_map { [0 rgb C*.72] [.5 rgb C] [.85 rgb C*.84] [1 rgb C*.55] } }
        normal { granite .04 scale <.04,.05,.6> } finish { diffuse .7 specular .14 roughness .06 reflection { .01,.16 } } } }
    #local Z0=Z0+L;
  #end
  #declare X0=X0+.124;
#end
difference {
  union {
    box { <-5,1.32,1.8> <5,3.1,2.0> Painted(<.66,.63,.52>, .05) }
    box { <-5,0,1.8> <5,1.30,2.0> Painted(<.20,.27,.235>, .22) }
    box { <-5,1.30,1.793> <5,1.322,2.0> Painted(<.10,.085,.07>, .2) }
  }
  box { <-1.62,1.12,1.5> <1.27,2.06,2.5> pigment { rgb .1 } }
}
box { <-5,0,1.775> <5,.14,1.82> Wood(Oak*.6,5,0) }
box { <-5,3.1,-7> <5,3.2,2> pigment { rgb <.63,.61,.55> } }
box { <-3.4,0,-7> <-3.3,3.1,2> Painted(<.62,.59,.49>, .05) }
difference { box { <3.0,0,-7> <3.2,3.1,2> } box { <2.9,.95,-3.4> <3.3,2.5,-1.2> } Painted(<.62,.59,.49>, .05) }
box { <-5,0,-7.2> <5,3.1,-7> pigment { rgb <.42,.39,.33> } }

// ---- the hatch: three panes to the dark hall ----------------------------------------------------------------
#macro Bar(A,B,S) box { A,B Wood(Oak*.85,S,(B.y-A.y>B.x-A.x)) } #end
Bar(<-1.70,1.06,1.755>,<1.35,1.125,1.9>,1) Bar(<-1.70,2.05,1.76>,<1.35,2.13,1.9>,2)
Bar(<-1.70,1.06,1.757>,<-1.62,2.13,1.9>,3) Bar(<1.27,1.06,1.757>,<1.35,2.13,1.9>,4)
Bar(<-.69,1.12,1.78>,<-.635,2.06,1.88>,5) Bar(<.29,1.12,1.78>,<.345,2.06,1.88>,6)
box { <-1.76,1.03,1.66> <1.41,1.065,1.9> Wood(Oak,7,0) }
#macro Pane(A,B,T) box { <A,1.12,1.83> <B,2.06,1.836> pigment { rgbt <.92,.96,.95,.9> } normal { bumps .004 scale .35 translate T } finish { diffuse .04 specular .5 roughness .003 reflection { .13,.6 } } } #end
Pane(-1.62,-.69,0) Pane(-.635,.29,3) Pane(.345,1.27,7)
#for (k,0,2) #for (i,0,6) cylinder { <-1.155+k*.97,1.5,1.826> <-1.155+k*.97,1.5,1.832>,.011 translate #if (i=0) 0 #else vrotate(.032*x,i*60*z) #end pigment { rgb .02 } } #end
  torus { .062,.007 rotate 90*x translate <-1.155+k*.97,1.5,1.828> texture { Brass } } #end
// the hall beyond: a far window, two lamps, benches
box { <-5,0,6> <5,3.4,6.1> pigment { rgb <.11,.10,.085> } finish { diffuse .3 emission .12 } }
box { <-5,-.02,2> <5,0,6> pigment { rgb <.09,.08,.07> } finish { diffuse .3 reflection .05 } }
box { <-1.9,1.15,5.95> <-1.0,2.5,5.99> pigment { rgb <.42,.52,.66> } finish { emission .42 diffuse 0 } }
#for (i,0,2) box { <-1.93+i*.45,1.1,5.9> <-1.89+i*.45,2.55,5.95> pigment { rgb .015 } } #end box { <-1.93,1.8,5.9> <-1,1.85,5.95> pigment { rgb .015 } }
#for (i,0,1) sphere { <.2+i*1.5,2.35,5.2>,.085 pigment { rgb <1,.75,.42> } finish { emission .9 diffuse 0 } } #end
box { <-.3,.42,5.2> <1.8,.5,5.6> pigment { rgb <.05,.03,.02> } }

// ---- the counter with its drawers and things ------------------------------------------------------------------
box { <-1.9,.94,1.16> <1.12,.985,1.8> Wood(Oak*1.05,11,0) }
box { <-1.86,.1,1.24> <1.08,.94,1.3> Wood(Oak*.8,12,0) }
box { <1.02,0,1.2> <1.09,.94,1.8> Wood(Oak*.8,13,1) } box { <-1.87,0,1.2> <-1.80,.94,1.8> Wood(Oak*.8,14,1) }
#for (i,0,3) #for (j,0,1)
  superellipsoid { <.05,.05> scale <.335,.165,.015> translate <-1.42+i*.71,.72-j*.38,1.236> Wood(Oak*.92,20+i*3+j,0) }
  torus { .034,.006 scale <1,1,.7> rotate 80*x translate <-1.42+i*.71,.715-j*.38,1.205> texture { Brass } }
  cylinder { <-1.42+i*.71,.76-j*.38,1.225> <-1.42+i*.71,.76-j*.38,1.20>,.012 texture { Brass } }
#end #end
// desk lamp with its light
union {
  cylinder { <0,0,0> <0,.018,0>,.09 texture { Brass } } cylinder { <0,0,0> <.0,.34,0>,.009 texture { Brass } }
  object { Wire(array[4] { <0,.34,0>,<.02,.385,0>,<.07,.40,0>,<.11,.385,0> }, .008, 14) texture { Brass } }
  difference { cone { <.12,.405,0>,.03 <.12,.30,0>,.115 } cone { <.12,.400,0>,.027 <.12,.299,0>,.112 } pigment { rgb <.03,.11,.07> } finish { diffuse .6 specular .5 roughness .02 } }
  sphere { <.12,.335,0>,.03 pigment { rgb <1,.8,.5> } finish { emission 2.2 diffuse 0 } no_shadow }
  light_source { <.12,.335,0> rgb <1,.70,.38>*1.3 fade_distance .35 fade_power 2 }
  translate <-1.28,.985,1.48>
}
// a ledger lying open, a rack of stamps, a cash box, a mug with pencils, a roll of tickets
union {
  #for (s,-1,1,2) intersection { cylinder { <s*.115,-.33,-.14> <s*.115,-.33,.14>,.352 } box { <min(0,s*.22),-.1,-.14> <max(0,s*.22),.1,.14> } texture { pigment { gradient z scale .022 color_map { [0 rgb <.62,.58,.47>] [.86 rgb <.62,.58,.47>] [.86 rgb <.34,.36,.42>] [1 rgb <.34,.36,.42>] } } finish { diffuse .8 } } } #end
  box { <-.225,-.004,-.145> <.225,.004,.145> pigment { rgb <.11,.03,.025> } }
  rotate 12*y translate <-.62,.993,1.42>
}
box { <-.22,.985,1.42> <.08,1.10,1.62> pigment { rgb <.10,.125,.115> } normal { granite .03 scale .05 } finish { diffuse .7 specular .3 roughness .03 } }
box { <-.225,1.085,1.415> <.085,1.105,1.625> pigment { rgb <.115,.14,.13> } finish { diffuse .7 specular .3 roughness .03 } }
torus { .03,.005 scale <1.2,1,1> rotate 90*x translate <-.07,1.112,1.52> texture { Brass } }
difference { cylinder { <.28,.985,1.5> <.28,1.085,1.5>,.042 } cylinder { <.28,.99,1.5> <.28,1.1,1.5>,.038 } pigment { rgb <.50,.46,.37> } finish { diffuse .75 specular .4 roughness .02 } }
#declare RP=seed(31); #for (i,0,4) cylinder { <.28+.02*(rand(RP)-.5),.99,1.5+.02*(rand(RP)-.5)> <.28+.07*(rand(RP)-.5),1.17+.04*rand(RP),1.5+.07*(rand(RP)-.5)>,.0042 pigment { rgb <.4*rand(RP)+.1,.25*rand(RP)+.05,.06> } } #end
union { box { <0,0,-.06> <.34,.015,.06> } #for (i,0,4) cylinder { <.04+i*.065,.012,0> <.04+i*.065,.06,0>,.014 } #end #for (i,0,4) sphere { <.04+i*.065,.078,0>,.021 } #end pigment { wood scale .01 color_map { [0 rgb <.19,.085,.035>] [1 rgb <.27,.13,.055>] } } finish { diffuse .7 specular .3 roughness .02 } rotate -7*y translate <.52,.985,1.47> }
difference { cylinder { <.93,.985,1.48> <.93,1.05,1.48>,.055 } cylinder { <.93,.98,1.48> <.93,1.06,1.48>,.014 } pigment { onion scale .0035 color_map { [0 rgb <.56,.44,.26>] [1 rgb <.45,.33,.18>] } translate <.93,0,1.48> } finish { diffuse .8 } }

// ---- pigeonholes on the right, with papers and parcels --------------------------------------------------------
#declare SX=1.98; #declare SW=.92; #declare SY=.75;
difference {
  box { <SX,SY,1.42> <SX+SW,SY+1.5,1.8> Wood(Oak*.9,51,1) }
  #for (i,0,3) #for (j,0,4) box { <SX+.03+i*.2225,SY+.03+j*.294,1.3> <SX+.03+i*.2225+.195,SY+.03+j*.294+.268,1.77> Wood(Oak*.55,60,0) } #end #end
}
box { <SX-.03,SY-.75,1.36> <SX+SW+.03,SY,1.8> Wood(Oak*.85,52,1) } box { <SX-.05,SY-.02,1.34> <SX+SW+.05,SY+.02,1.8> Wood(Oak,53,0) }
#for (i,0,1) superellipsoid { <.05,.05> scale <.2,.3,.012> translate <SX+.24+i*.45,.37,1.355> Wood(Oak*.95,54+i,1) } sphere { <SX+.41+i*.1,.42,1.335>,.014 texture { Brass } } #end
#declare RQ=seed(17);
#for (i,0,3) #for (j,0,4)
  #local PX=SX+.03+i*.2225; #local PY=SY+.03+j*.294; #local K=rand(RQ);
  #if (K<.55)   // a stack of papers
    #local H=.03+.12*rand(RQ); #local C=<.58,.54,.44>*(.8+.35*rand(RQ));
    box { <0,0,0> <.15,H,.28> pigment { gradient y scale .006 turbulence .1 color_map { [0 rgb C] [.7 rgb C*.93] [.85 rgb C*.7] [1 rgb C] } } rotate 6*(rand(RQ)-.5)*y translate <PX+.02+.02*rand(RQ),PY,1.46+.05*rand(RQ)> }
  #else #if (K<.8)  // a parcel
    box { <0,0,0> <.13+.04*rand(RQ),.1+.1*rand(RQ),.2> pigment { granite scale .2 color_map { [0 rgb <.31,.215,.12>] [1 rgb <.39,.275,.16>] } } normal { wrinkles .2 scale .05 } rotate 9*(rand(RQ)-.5)*y translate <PX+.015,PY,1.48> }
  #end #end
  #if (rand(RQ)<.5) box { <0,0,0> <.006,.2+.05*rand(RQ),.25> pigment { rgb <.6*rand(RQ)+.06,.2,.14> } rotate -7*z translate <PX+.172,PY,1.45> } #end
#end #end
box { <SX+.06,SY+1.5,1.5> <SX+.52,SY+1.72,1.78> pigment { granite scale .25 color_map { [0 rgb <.30,.21,.12>] [1 rgb <.37,.265,.155>] } } normal { wrinkles .15 scale .08 } }
object { Turned(array[8] { <.0,.0>,<.06,.0>,<.075,.02>,<.08,.10>,<.07,.15>,<.045,.17>,<.05,.19>,<.052,.2> }, 28, 32) pigment { rgb <.10,.17,.19> } finish { diffuse .7 specular .5 roughness .02 } translate <SX+.72,SY+1.5,1.62> }

// ---- on the left: a timetable, a row of hooks with keys and a coat, a stool ------------------------------------
box { <-2.45,1.36,1.785> <-1.95,2.03,1.8> texture { pigment { image_map { png "office-note.png" once interpolate 2 } translate <-.5,-.5,0> scale <.48,.64,1> translate <-2.2,1.695,0> } finish { diffuse .78 } } }
#for (e,0,1) box { <-2.46+e*.5,1.35,1.775> <-2.44+e*.5,2.04,1.8> Wood(Oak*.5,70+e,1) } box { <-2.46,1.35+e*.68,1.775> <-1.94,1.365+e*.68,1.8> Wood(Oak*.5,72+e,0) } #end
box { <-3.2,1.62,1.77> <-2.6,1.72,1.8> Wood(Oak*.8,75,0) }
#for (i,0,3) object { Wire(array[4] { <0,0,0>,<0,-.01,-.05>,<0,.01,-.075>,<0,.04,-.08> }, .006, 12) texture { Brass } translate <-3.1+i*.14,1.67,1.77> } #end
object { Turned(array[9] { <.03,0>,<.07,-.03>,<.11,-.15>,<.125,-.4>,<.14,-.62>,<.16,-.85>,<.15,-.86>,<.05,-.87>,<0,-.87> }, 36, 40) scale <1,1,.55> pigment { granite scale .15 color_map { [0 rgb <.045,.055,.075>] [1 rgb <.065,.078,.1>] } } normal { gradient x .9 scale .06 sine_wave turbulence .3 } finish { diffuse .8 } translate <-2.82,1.66,1.68> }
union { cylinder { <0,.60,0> <0,.64,0>,.17 Wood(Oak,80,0) } #for (i,0,3) cylinder { vrotate(<.19,0,0>,(45+i*90)*y) vrotate(<.12,.6,0>,(45+i*90)*y),.017 Wood(Oak*.9,81+i,1) } #end torus { .165,.009 translate .22*y texture { Iron } } translate <-.42,0,.62> }
// a radiator pipe, a switch, a conduit
cylinder { <1.72,0,1.765> <1.72,3.1,1.765>,.018 Painted(<.5,.48,.4>,.2) }
superellipsoid { <.3,.3> scale <.04,.055,.02> translate <1.5,1.42,1.79> pigment { rgb <.09,.075,.06> } finish { specular .5 roughness .02 } }
cylinder { <1.5,1.46,1.79> <1.5,3.1,1.79>,.008 Painted(<.55,.53,.44>,.1) }
// a waste basket
difference { cone { <0,0,0>,.12 <0,.3,0>,.155 } cone { <0,.02,0>,.112 <0,.31,0>,.15 } texture { pigment { granite scale .1 color_map { [0 rgb <.2,.14,.08>] [1 rgb <.3,.22,.13>] } } normal { quilted 1 scale .02 } finish { diffuse .75 } } translate <.72,0,.98> }
#declare RW=seed(4); #for (i,0,4) superellipsoid { <.7,.7> scale .05 rotate 90*rand(RW)*x translate <.72+.12*(rand(RW)-.5),.25+.05*rand(RW),.98+.12*(rand(RW)-.5)> pigment { rgb <.6,.57,.49> } normal { wrinkles 1.2 scale .03 } } #end
#end

// ---- light ---------------------------------------------------------------------------------------------------
#if (PART!=4)
light_source { <5.6,2.5,-3.6> rgb <.72,.82,1.0>*2.8 fade_distance 4 fade_power 2 Area(<0,0,1.9>,<0,1.3,0>,(PART=0 ? 7 : 3)) }
light_source { <-.4,2.95,-1.6> rgb <1,.84,.60>*1.5 fade_distance 2.6 fade_power 2 Area(<.6,0,0>,<0,0,.6>,(PART=0 ? 5 : 3)) }
#if (QUICK | PART>0) light_source { <-1.5,2.2,-4.5> rgb <.42,.39,.33>*.7 shadowless } light_source { <0,-2,-2> rgb <.20,.15,.10>*.8 shadowless } #end
#end
#if (PART=1) plane { y,0 pigment { rgb <.25,.18,.11> } no_image } box { <-3.3,0,-7> <3,3.1,1.8> pigment { rgb <.30,.28,.23> } finish { emission .5 diffuse 0 } no_image no_shadow hollow } #end
#if (PART=2 | PART=3) plane { y,0 pigment { rgb .5 } finish { diffuse .6 } } #end

// ---- what was left behind: a stepladder --------------------------------------------------------------------------
#if (LADDER)
#declare Rung = <.50,.37,.21>;
union {
  #for (s,-1,1,2)
    union { box { <-.014,0,-.034> <.014,1.98,.034> } rotate <14.5,0,s*2.4> translate <s*.245,0,-.36> Wood(Rung,90+s,1) }
    union { box { <-.012,0,-.02> <.012,1.92,.02> } rotate <-12,0,s*1.6> translate <s*.21,0,.54> Wood(Rung*.9,94+s,1) }
    cylinder { <s*.23,.75,-.16> <s*.2,.74,.38>,.006 texture { Iron } }
  #end
  #for (i,1,6) #local Y=i*.27; #local XW=.245-Y*tan(2.4*pi/180); box { <-XW,Y-.012,-.36+Y*.2586-.055> <XW,Y+.012,-.36+Y*.2586+.05> Wood(Rung*1.05,100+i,0) } #end
  #for (i,1,4) #local Y=i*.36; box { <-.21,Y-.015,.54-Y*.2126-.01> <.21,Y+.015,.54-Y*.2126+.01> Wood(Rung*.9,110+i,0) } #end
  superellipsoid { <.1,.1> scale <.2,.017,.13> translate <0,1.93,.14> Wood(Rung*1.08,120,0) }
  // a rag and a pot of paint left on the top
  cylinder { <-.04,1.947,.15> <-.04,2.06,.15>,.06 pigment { gradient y color_map { [0 rgb <.20,.19,.17>] [.7 rgb <.34,.33,.3>] [1 rgb <.5,.12,.06>] } scale .115 translate 1.947*y } finish { diffuse .65 specular .4 roughness .03 } }
  torus { .06,.004 translate <-.04,2.06,.15> texture { Iron } }
  rotate 13*y translate <1.50,0,.62>
}
#end

// ---- the mail trolley -----------------------------------------------------------------------------------------
#if (PART=1 | PART=2)
union {
  #macro Castor(X,Z) union { torus { .075,.02 rotate 90*x pigment { rgb .03 } finish { diffuse .7 specular .1 } } cylinder { <0,0,-.014> <0,0,.014>,.07 pigment { rgb <.3,.28,.25> } finish { specular .3 } } #for (k,0,4) box { <-.009,.015,-.018> <.009,.062,.018> rotate k*72*z pigment { rgb <.12,.11,.1> } } #end rotate -ROLL*z translate <X,.095,Z> }
    box { <X-.03,.095,Z-.03> <X+.03,.20,Z-.022> texture { Iron } } box { <X-.03,.095,Z+.022> <X+.03,.20,Z+.03> texture { Iron } } #end
  Castor(-.48,-.27) Castor(.48,-.27) Castor(-.48,.27) Castor(.48,.27)
  #for (s,-1,1,2) box { <-.60,.20,s*.30-.022> <.60,.245,s*.30+.022> texture { Iron } } box { <s*.58-.02,.2,-.32> <s*.58+.02,.245,.32> texture { Iron } } #end
  // canvas tub on an iron frame
  #for (s,-1,1,2) #for (e,-1,1,2) cylinder { <s*.58,.24,e*.30> <s*.60,.86,e*.33>,.014 texture { Iron } } #end cylinder { <-.6,.86,s*.33> <.6,.86,s*.33>,.014 texture { Iron } } cylinder { <s*.6,.86,-.33> <s*.6,.86,.33>,.014 texture { Iron } } #end
  #declare Canvas = texture { pigment { granite scale .3 color_map { [0 rgb <.25,.235,.17>] [.5 rgb <.315,.295,.22>] [1 rgb <.36,.335,.25>] } } normal { average normal_map { [1 wrinkles .5 scale <.2,.35,.2>] [1 quilted .3 scale .006] } } finish { diffuse .8 } };
  difference { superellipsoid { <.12,.12> scale <.575,.32,.305> translate .56*y } box { <-.7,.84,-.5> <.7,1.2,.5> } box { <-.55,.3,-.28> <.55,1,.28> } texture { Canvas } }
  box { <-.575,.80,-.318> <.575,.85,-.308> texture { Canvas } }
  #for (i,-2,2) box { <i*.24-.022,.27,-.322> <i*.24+.022,.86,-.309> pigment { rgb <.13,.085,.05> } finish { diffuse .75 specular .1 } } #end
  // sacks and parcels
  #declare RT=seed(2);
  #for (i,0,4) superellipsoid { <.65,.6> scale <.20+.03*rand(RT),.14+.03*rand(RT),.16> rotate <20*(rand(RT)-.5),60*(rand(RT)-.5),26*(rand(RT)-.5)> translate <-.40+i*.2,.86+.05*rand(RT),.14*(rand(RT)-.5)> pigment { granite scale .2 color_map { [0 rgb <.35,.31,.23>*(.75+.4*rand(RT))] [1 rgb <.46,.42,.32>*(.75+.4*rand(RT))] } } normal { wrinkles .7 scale .07 } } #end
  box { <-.17,0,-.13> <.17,.2,.13> pigment { granite scale .2 color_map { [0 rgb <.31,.215,.12>] [1 rgb <.38,.27,.155>] } } normal { wrinkles .1 scale .06 } rotate <0,24,7> translate <.22,.96,-.02> }
  // handle
  object { Wire(array[6] { <-.60,.86,-.3>,<-.70,.98,-.3>,<-.74,1.05,-.27>,<-.74,1.05,.27>,<-.70,.98,.3>,<-.60,.86,.3> }, .014, 30) texture { Iron } }
  #if (PART=2) no_image #end
  translate <TX,0,-.2>
}
#end
