// "The Last Boat to Vell": the painted side of a ship. Invented. One unit is one metre.
// Declared from the command line: QUICK, CHALK (0|1), ANGLE (of view), and PART: 0 = the hull, 1 = the chalk white on black.
#version 3.7;
#include "common.inc"
#ifndef(PART) #declare PART=0; #end
#ifndef(ANGLE) #declare ANGLE=38; #end
#ifndef(CHALK) #declare CHALK=0; #end
global_settings { assumed_gamma 1 max_trace_level 4 }
camera { location <.12,.02,-3.1> right x*image_width/image_height look_at <.0,0,0> angle ANGLE }

#declare Gr = function { pattern { granite scale .9 } };
#declare Fine = function { pattern { granite scale .11 } };
#declare Bz = function { pattern { bozo turbulence .8 octaves 6 lambda 2.3 scale 1.4 } };
#declare Run = function { pattern { bozo turbulence .35 octaves 4 scale <.035,.9,1> } };   // what water has drawn downwards
#declare ChalkF = function { pigment { image_map { png "hull-chalk.png" once interpolate 2 } translate <-.5,-.5,0> scale <.56,.262,1> rotate -3*z translate <.06,-.02,0> } };
#declare Tooth = function { pattern { granite scale .016 } };
#declare Edge = function(x,y) { .012*sin(x*7.3)+.006*sin(x*19+1) };
// the paint: petrol blue over red lead, a slow gradient from weather and light
#declare Blue = texture {
  pigment { function { min(1, max(0, .30*Gr(x,y,z)+.35*Bz(x,y,z)+.13*Fine(x,y,z)+.16*Run(x,y,z)+.06*(y+.6))) }
    color_map { [0 rgb <.020,.062,.080>] [.35 rgb <.030,.088,.108>] [.6 rgb <.040,.108,.128>] [.85 rgb <.060,.132,.146>] [1 rgb <.095,.155,.16>] } }
  normal { average normal_map { [1.2 bumps .12 scale <.42,.55,.4>] [1 granite .05 scale .25] [1.1 bumps .16 scale .009] } }
  finish { diffuse .8 specular .20 roughness .035 reflection { .012,.10 } }
};
#declare Red = texture {
  pigment { function { min(1, max(0, .4*Gr(x,y,z)+.3*Bz(x,y,z)+.2*Run(x,y,z)+.1*Fine(x,y,z))) } color_map { [0 rgb <.12,.030,.020>] [.5 rgb <.185,.050,.032>] [1 rgb <.25,.085,.055>] } }
  normal { average normal_map { [1 bumps .1 scale <.3,.4,.3>] [1 granite .08 scale .2] [1 bumps .2 scale .008] } }
  finish { diffuse .8 specular .12 roughness .05 }
};
#declare Skin = texture {
  pigment_pattern { function { min(1, max(0, .5 + 26*(y + .47 + Edge(x,y)*.25 + .012*(Fine(x,y,z)-.5)))) } }
  texture_map { [.45 Red] [.55 Blue] }
};
#declare Chalk = texture { pigment { granite scale .03 color_map { [0 rgb <.55,.55,.52>] [1 rgb <.72,.72,.69>] } } finish { diffuse .85 } };
// chalk stays on the high grains of the paint
#declare Cover = function { min(1, max(0, (ChalkF(x,y,z).red*(1-ChalkF(x,y,z).transmit)*1.95 - .45 - 1.25*Tooth(x,y,z)))) };
#if (PART=1)
  #declare Side = texture { pigment { function { Cover(x,y,z) } color_map { [0 rgb 0] [1 rgb 1] } } finish { emission 1 diffuse 0 } };
#else #if (CHALK)
  #declare Side = texture { pigment_pattern { function { Cover(x,y,z) } } texture_map { [0 Skin] [1 Chalk] } };
#else
  #declare Side = texture { Skin };
#end #end
#declare Plain = #if (PART=1) texture { pigment { rgb 0 } finish { emission 0 diffuse 0 ambient 0 } } #else texture { Skin } #end

// plating: two strakes with a lap, a butt, dished a little between the frames
#declare Skin_z = function(x,y) { .010*sin(x*3.1+.6)*cos(y*2.2) + .06*y*y - .015/(1+exp(-(y-.338)*420)) - .004/(1+exp(-(x+.83+.002*sin(y*9))*500)) };
#macro Normal_at(X,Y) vnormalize(<Skin_z(X+.0006,Y)-Skin_z(X-.0006,Y), Skin_z(X,Y+.0006)-Skin_z(X,Y-.0006), -.0012>) #end
// rows and columns lie close where one plate laps over the other
#declare NX=110; #declare NY=100;
#declare XS=array[NX+1]; #declare YS=array[NY+1];
#for (i,0,NX) #if (i<40) #declare XS[i]=-1.5+.64*i/40; #else #if (i<64) #declare XS[i]=-.86+.06*(i-40)/24; #else #declare XS[i]=-.80+2.3*(i-64)/(NX-64); #end #end #end
#for (i,0,NY) #if (i<50) #declare YS[i]=-.9+1.215*i/50; #else #if (i<80) #declare YS[i]=.315+.046*(i-50)/30; #else #declare YS[i]=.361+.6*(i-80)/(NY-80); #end #end #end
mesh {
  #for (i,0,NX-1) #for (j,0,NY-1)
    #local A=<XS[i],YS[j],Skin_z(XS[i],YS[j])>; #local B=<XS[i+1],YS[j],Skin_z(XS[i+1],YS[j])>; #local C=<XS[i+1],YS[j+1],Skin_z(XS[i+1],YS[j+1])>; #local D=<XS[i],YS[j+1],Skin_z(XS[i],YS[j+1])>;
    #local NA=Normal_at(A.x,A.y); #local NC=Normal_at(C.x,C.y);
    smooth_triangle { A,NA, B,Normal_at(B.x,B.y), C,NC } smooth_triangle { A,NA, C,NC, D,Normal_at(D.x,D.y) }
  #end #end
  texture { Side }
}
// a line of rivets below the lap, and along the butt
#declare RR=seed(14);
#macro Rivet(X,Y) superellipsoid { <1,.7> scale <.0125,.0125,.0068> rotate <4*(rand(RR)-.5),4*(rand(RR)-.5),90*rand(RR)> translate <X,Y,Skin_z(X,Y)> texture { Plain } } #end
#for (i,-24,24) Rivet(i*.0745+.02,.366) #end
#for (i,-13,4) Rivet(-.80,i*.0745+.02) #end
// what rust has drawn from some of them
#if (PART=0)
#declare RS=seed(77);
#for (i,-24,24) #local L=.05+.17*pow(rand(RS),3); #local A=rand(RS);
  #if (A<.42) box { <-.0045,-L,-.0012> <.0045,0,.0006> pigment { gradient y color_map { [0 rgbt <.16,.07,.03,1>] [.75 rgbt <.17,.075,.03,.75>] [1 rgbt <.15,.06,.025,.38>] } scale L translate -L*y } finish { diffuse .7 } no_shadow
    rotate 2.5*x translate <i*.0745+.02,.334,Skin_z(i*.0745+.02,.30)-.0025> } #end
#end
#end
// ---- light: a wide overcast sky above, the wet quay below, a little sun along the plates -------------------------
#if (PART=0)
light_source { <-2.5,9,-8> rgb <.86,.93,1.0>*1.25 Area(<9,0,0>,<0,0,7>,6) }
light_source { <-16,3.5,-5.2> rgb <1,.83,.60>*1.15 Area(<0,.7,0>,<0,0,.7>,4) }
light_source { <3,-5,-6> rgb <.40,.38,.34>*.55 Area(<6,0,0>,<0,0,3>,4) }
sky_sphere { pigment { gradient y color_map { [0 rgb <.35,.34,.32>] [.5 rgb <.55,.6,.65>] [1 rgb <.8,.85,.9>] } scale 2 translate -1 } }
#end
